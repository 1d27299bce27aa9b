import { Button, Segmented } from "antd";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Waiting } from "../../shared/Loading";
import { PickFile } from "../../shared/PickFile";
import { say } from "../../shared/say";
import { Outline } from "./editor/Outline";
import { PartEditor } from "./editor/PartEditor";

type Act = NonNullable<Schema["DraftCommand"]["act"]>;

/** A new part: from a piece of bar, from a file, or as a copy; or a part that is there, changed. */
export default function NewPartPage() {
  const { project } = useParams();
  const [query] = useSearchParams();
  const from = project ?? query.get("from") ?? "";
  const asked = useQuery({ ...queries.project(from), enabled: from !== "" });
  const [begun, setBegun] = useState<{ file: string; act?: Act } | null>(null);
  const [unit, setUnit] = useState<"in" | "mm">("mm");
  if (from !== "" && !asked.data) return <main className="page">{asked.error ? <p className="error">{asked.error.message}</p> : <Waiting />}</main>;
  if (asked.data)
    return (
      <main className="page stack">
        <h1>{project ? say("Change {name}", { name: asked.data.name }) : say("Copy of {name}", { name: asked.data.name })}</h1>
        <PartEditor begin={asked.data.file} {...(project && { project: asked.data })} />
      </main>
    );
  if (begun)
    return (
      <main className="page stack">
        <h1>{say("New part")}</h1>
        <PartEditor begin={begun.file} {...(begun.act && { start: begun.act })} />
      </main>
    );
  const forms = [
    ["flat", say("Flat bar")],
    ["square", say("Square bar")],
    ["round", say("Round bar")],
    ["block", say("Block")],
  ] as const;
  return (
    <main className="page stack">
      <h1>{say("New part")}</h1>
      <section className="card pad stack">
        <h2>{say("What is it cut from?")}</h2>
        <Segmented
          aria-label={say("Unit of the drawing")}
          value={unit}
          options={[
            { value: "mm", label: say("millimetres") },
            { value: "in", label: say("inches") },
          ]}
          onChange={setUnit}
        />
        <div className="row">
          {forms.map(([form, words]) => (
            <Button key={form} size="large" type="primary" onClick={() => setBegun({ file: "", act: { kind: "begin", unit, form } })}>
              {words}
            </Button>
          ))}
        </div>
        <p className="muted small">
          {say("The sizes, the faces and everything that is cut from it come next. A part can also begin as a file, or as a copy.")}
        </p>
        <PickFile label={say("From a file")} accept=".json,application/json" onFile={(file) => void file.text().then((t) => setBegun({ file: t }))} />
      </section>
      <Outline unit={unit} onMade={(file) => setBegun({ file })} />
    </main>
  );
}
