import { Button } from "antd";
import { say } from "../../../shared/say";
import { Chosen, optionsOf, Typed, type Edit } from "./Asking";
import { items, set, text, without, withMore, type PartFile } from "./file";

/** The piece of bar, the finished block or bar inside it, the datums and the default tolerances. */
export function Body({ edit }: { edit: Edit }) {
  const isBar = text(edit.file, "body.shape") === "bar";
  const isRound = text(edit.file, "stock.form") === "round";
  const block = [
    ["x", say("Length, X")],
    ["y", say("Width, Y")],
    ["z", say("Height, Z")],
  ] as const;
  const round = [
    ["diameter", say("Diameter")],
    ["length", say("Length")],
  ] as const;
  return (
    <div className="stack tight">
      <fieldset className="feature">
        <legend>{say("Finished")}</legend>
        <div className="asks">
          {(isBar ? round : block).map(([key, label]) => (
            <Typed key={key} edit={edit} path={`body.${key}`} label={label} />
          ))}
        </div>
      </fieldset>
      <fieldset className="feature">
        <legend>{say("Stock as bought")}</legend>
        <div className="asks">
          {!isRound && (
            <Chosen
              edit={edit}
              path="stock.form"
              label={say("Form")}
              options={[
                { value: "flat", label: say("flat bar") },
                { value: "square", label: say("square bar") },
                { value: "block", label: say("block") },
              ]}
            />
          )}
          {(isRound ? round : block).map(([key, label]) => (
            <Typed key={key} edit={edit} path={`stock.${key}`} label={label} />
          ))}
        </div>
      </fieldset>
      <Datums edit={edit} />
      <Defaults edit={edit} />
    </div>
  );
}

const LETTERS = ["A", "B", "C", "D", "E", "F"];

function Datums({ edit }: { edit: Edit }) {
  const found = items(edit.file, "datums");
  const used = found.map((d) => text(d, "letter"));
  const next = LETTERS.find((l) => !used.includes(l));
  return (
    <fieldset className="feature">
      <legend>{say("Datums")}</legend>
      {found.map((d, n) => (
        <div key={text(d, "letter")} className="row ends">
          <Chosen
            edit={edit}
            path={`datums.${n}.face`}
            label={say("Datum {letter}", { letter: text(d, "letter") })}
            options={optionsOf(edit.draft.faces)}
          />
          <Button onClick={() => edit.change(without(edit.file, "datums", n))}>{say("Remove {name}", { name: text(d, "letter") })}</Button>
        </div>
      ))}
      {next && (
        <div className="row">
          <Button size="small" onClick={() => edit.change(withMore(edit.file, "datums", { letter: next, face: "bottom" }))}>
            {say("Add datum {letter}", { letter: next })}
          </Button>
        </div>
      )}
    </fieldset>
  );
}

function Defaults({ edit }: { edit: Edit }) {
  const places = Object.keys((edit.file["title_block"] ?? {}) as PartFile).toSorted((a, b) => a.localeCompare(b));
  return (
    <fieldset className="feature">
      <legend>{say("Where no tolerance is given, plus or minus")}</legend>
      <div className="asks">
        {places.map((p) => (
          <Typed key={p} edit={edit} path={`title_block.${p}`} label={say("{places} decimal places", { places: p })} />
        ))}
      </div>
      <div className="row">
        {["0", "1", "2", "3", "4"]
          .filter((p) => !places.includes(p))
          .map((p) => (
            <Button key={p} size="small" onClick={() => edit.change(set(edit.file, `title_block.${p}`, "") as PartFile)}>
              {say("Add {places} places", { places: p })}
            </Button>
          ))}
      </div>
    </fieldset>
  );
}
