import { Button } from "antd";
import type { Schema } from "../../../api/client";
import { say } from "../../../shared/say";
import { Chosen, Counted, faultsAt, Typed, Wrong, type Edit } from "./Asking";
import { items, text, without } from "./file";

/** What the drawing asks for: each with its tolerance as a machinist writes it, and the limits that follow. */
export function Asked({ edit }: { edit: Edit }) {
  const found = items(edit.file, "characteristics");
  const letters = items(edit.file, "datums").map((d) => text(d, "letter"));
  return (
    <>
      {found.map((asked, n) => (
        <One key={n} edit={edit} n={n} letters={letters} row={edit.draft.rows.find((r) => String(r.number) === text(asked, "number"))} />
      ))}
      {found.length === 0 && (
        <p className="muted small">
          {say("Nothing is asked yet. Touch two faces, an axis and a face, or one hole on the drawing, then put it on the drawing.")}
        </p>
      )}
    </>
  );
}

function One(p: { edit: Edit; n: number; letters: string[]; row: Schema["RowView"] | undefined }) {
  const { edit, n, letters, row } = p;
  const at = `characteristics.${n}`;
  const kind = text(edit.file, `${at}.kind`);
  const isForm = ["parallel", "square", "flat"].includes(kind);
  const whole = faultsAt(edit.draft, at).filter((f) => !["name", "tolerance", "datum", "readings", "where"].some((k) => f.field === `${at}.${k}`));
  return (
    <fieldset className={faultsAt(edit.draft, at).length > 0 ? "feature wrong" : "feature"}>
      <legend>
        {text(edit.file, `${at}.number`)} {row?.name ?? kind}
      </legend>
      <div className="asks">
        <p className="nominal">
          {row ? row.nominal[row.nominal.given === "in" ? "inch" : "mm"] : ""}
          {row?.lower && row.upper && (
            <span className="small muted">
              {" "}
              {say("{lower} to {upper}", {
                lower: row.lower[row.lower.given === "in" ? "inch" : "mm"],
                upper: row.upper[row.upper.given === "in" ? "inch" : "mm"],
              })}
            </span>
          )}
        </p>
        <Typed
          edit={edit}
          path={`${at}.tolerance`}
          label={isForm ? say("At most") : say("Tolerance")}
          {...(!isForm && { empty: say("title block") })}
        />
        <Typed edit={edit} path={`${at}.name`} label={say("Name")} most={80} {...(row && { empty: row.name })} />
        <Typed edit={edit} path={`${at}.where`} label={say("Where it is measured")} most={400} />
        <Counted edit={edit} path={`${at}.readings`} label={say("Readings")} />
        {isForm && kind !== "flat" && (
          <Chosen edit={edit} path={`${at}.datum`} label={say("Datum")} options={letters.map((l) => ({ value: l, label: l }))} />
        )}
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
