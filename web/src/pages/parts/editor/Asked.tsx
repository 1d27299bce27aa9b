import { Button, Select } from "antd";
import type { Schema } from "../../../api/client";
import { textIn } from "../../../instruments/length";
import { say } from "../../../shared/say";
import { Chosen, Counted, faultsAt, optionsOf, Typed, Wrong, type Edit } from "./Asking";
import { items, text, without } from "./file";

type Turn = (n: number, kind: string) => void;

/** What the drawing asks for: each with its tolerance as a machinist writes it, and the limits that follow. */
export function Asked({ edit, onTurn }: { edit: Edit; onTurn: Turn }) {
  const found = items(edit.file, "characteristics");
  const letters = items(edit.file, "datums").map((d) => text(d, "letter"));
  return (
    <>
      {found.map((asked, n) => (
        <One
          key={n}
          edit={edit}
          n={n}
          letters={letters}
          row={edit.draft.rows.find((r) => String(r.number) === text(asked, "number"))}
          onTurn={onTurn}
        />
      ))}
      {found.length === 0 && (
        <p className="muted small">
          {say("Nothing is asked for yet. Touch two faces, an axis and a face, or one hole on the drawing, then add it.")}
        </p>
      )}
    </>
  );
}

function One(p: { edit: Edit; n: number; letters: string[]; row: Schema["RowView"] | undefined; onTurn: Turn }) {
  const { edit, n, letters, row } = p;
  const at = `characteristics.${n}`;
  const kind = text(edit.file, `${at}.kind`);
  const spec = edit.choices.asks.find((a) => a.key === kind);
  const kinds = edit.draft.kinds[n] ?? [];
  const whole = faultsAt(edit.draft, at).filter((f) => !["name", "tolerance", "datum", "readings", "where"].some((k) => f.field === `${at}.${k}`));
  return (
    <fieldset className={faultsAt(edit.draft, at).length > 0 ? "feature wrong" : "feature"}>
      <legend>
        {text(edit.file, `${at}.number`)} {row?.name ?? spec?.words ?? kind}
      </legend>
      <div className="asks">
        <p className="nominal">
          {row && (row.callout || textIn(row.nominal, row.nominal.given))}
          {row?.nominal.given === "deg" && "°"}
          {row?.lower && row.upper && (
            <span className="small muted">
              {" "}
              {say("{lower} to {upper}", { lower: textIn(row.lower, row.lower.given), upper: textIn(row.upper, row.upper.given) })}
            </span>
          )}
        </p>
        {kinds.length > 1 && (
          <label className="asked">
            {say("Kind")}
            <Select value={kind} options={optionsOf(kinds)} onChange={(next: string) => p.onTurn(n, next)} />
          </label>
        )}
        {spec && <Typed edit={edit} path={`${at}.tolerance`} label={spec.tolerance} {...(spec.empty && { empty: spec.empty })} />}
        <Typed edit={edit} path={`${at}.name`} label={say("Name")} most={80} {...(row && { empty: row.name })} />
        <Typed edit={edit} path={`${at}.where`} label={say("Where it is measured")} most={400} />
        {spec?.readings && <Counted edit={edit} path={`${at}.readings`} label={spec.readings} />}
        {spec?.datum && <Chosen edit={edit} path={`${at}.datum`} label={say("Datum")} options={letters.map((l) => ({ value: l, label: l }))} />}
      </div>
      {whole.length > 0 && <Wrong draft={edit.draft} path={at} />}
      <div className="row">
        <Button size="small" onClick={() => edit.change(without(edit.file, "characteristics", n))}>
          {say("Remove {name}", { name: text(edit.file, `${at}.number`) })}
        </Button>
      </div>
    </fieldset>
  );
}
