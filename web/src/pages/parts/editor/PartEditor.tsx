import { Button, Input, Select, Tabs } from "antd";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { api, body, newId, Refusal, wordsFor, type Schema } from "../../../api/client";
import { queries } from "../../../api/queries";
import { Waiting } from "../../../shared/Loading";
import { download } from "../../../shared/download";
import { say } from "../../../shared/say";
import { Asked } from "./Asked";
import { Counted, type Edit, faultsAt } from "./Asking";
import { Body } from "./Body";
import { Board } from "./Board";
import { Features } from "./Features";
import { items, text, type PartFile } from "./file";
import { Skills } from "./Skills";
import { useDraft } from "./useDraft";
import { Refused } from "../../../shared/Refused";
import "../../jobcards/jobcard.css";
import "../projects.css";
import "./editor.css";

type Act = NonNullable<Schema["DraftCommand"]["act"]>;

/** Making or changing a part: the drawing on the left follows what is done on the right, or touched on it. */
export function PartEditor(p: { begin: string; start?: Act; project?: Schema["ProjectDetail"] }) {
  const drafting = useDraft(p.begin, p.start);
  const choices = useQuery(queries.partChoices());
  const [chosen, setChosen] = useState<string[]>([]);
  const [tab, setTab] = useState("features");
  const { file, draft, seen, change, act, undo, redo } = drafting;
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
      event.preventDefault();
      (event.shiftKey ? redo : undo)?.();
    };
    window.addEventListener("keydown", keys);
    return () => window.removeEventListener("keydown", keys);
  }, [undo, redo]);
  useEffect(() => {
    const stay = (event: BeforeUnloadEvent) => drafting.changed && event.preventDefault();
    window.addEventListener("beforeunload", stay);
    return () => window.removeEventListener("beforeunload", stay);
  }, [drafting.changed]);
  if (!file || !draft || !choices.data)
    return drafting.error ? (
      <p className="error" role="alert">
        {wordsFor(drafting.error)}
      </p>
    ) : (
      <Waiting />
    );
  // faces and rows stay those of the last drawing while something cannot be read
  const shown = seen ? { ...seen, faults: draft.faults } : draft;
  const edit: Edit = { file, draft: shown, choices: choices.data, change };
  const touch = (name: string) => setChosen(chosen.includes(name) ? chosen.filter((c) => c !== name) : [...chosen, name].slice(-2));
  const face = chosen.find((c) => shown.faces.some((f) => f.id === c));
  const body_ = text(file, "body.shape");
  const add = async (feature: string) => {
    setChosen([]);
    setTab("features");
    await act({ kind: "add", feature, face: face ?? "top" });
  };
  const ask = async () => {
    setChosen([]);
    setTab("asked");
    await act({ kind: "ask", of: chosen });
  };
  return (
    <div className="maker">
      <div className="stack maker-board">
        <Board draft={shown} chosen={chosen} onTouch={touch} />
        <div className="card pad stack tight">
          <label className="asked">
            {say("Chosen on the part")}
            <Select
              mode="multiple"
              maxCount={2}
              value={chosen}
              placeholder={say("Touch a face, a hole or an axis on the drawing, or choose it here")}
              showSearch={{ optionFilterProp: "label" }}
              options={shown.names.map((n) => ({ value: n.id, label: n.name }))}
              onChange={setChosen}
            />
          </label>
          <div className="row" role="group" aria-label={say("Cut from it")}>
            {choices.data.kinds
              .filter((k) => k.on.includes(body_))
              .map((k) => (
                <Button key={k.key} title={k.help} onClick={() => void add(k.key)}>
                  {k.words}
                </Button>
              ))}
          </div>
          <div className="row">
            <Button type="primary" disabled={chosen.length === 0} onClick={() => void ask()}>
              {chosen.length === 2 ? say("Add their distance") : say("Add it to the drawing")}
            </Button>
            <span className="grow" />
            <Button disabled={!undo} onClick={() => undo?.()}>
              {say("Undo")}
            </Button>
            <Button disabled={!redo} onClick={() => redo?.()}>
              {say("Redo")}
            </Button>
          </div>
          <Refused by={drafting.error} />
        </div>
      </div>
      <div className="stack">
        <Head edit={edit} />
        <Tabs
          activeKey={tab}
          onChange={setTab}
          items={[
            { key: "body", label: marked(say("Stock"), draft, ["stock", "body", "title_block", "datums"]), children: <Body edit={edit} /> },
            {
              key: "features",
              label: marked(say("Features, {count}", { count: items(file, "features").length }), draft, ["features"]),
              children: <Features edit={edit} act={act} />,
            },
            {
              key: "asked",
              label: marked(say("Asked for, {count}", { count: items(file, "characteristics").length }), draft, ["characteristics"]),
              children: <Asked edit={edit} onTurn={(n, kind) => void act({ kind: "ask_as", characteristic: n, as_kind: kind })} />,
            },
            { key: "skills", label: marked(say("Skills"), draft, ["operations", "needs", "gives"]), children: <Skills edit={edit} /> },
          ]}
        />
        <Save edit={edit} draft={draft} {...(p.project && { project: p.project })} />
      </div>
    </div>
  );
}

function marked(words: string, draft: Schema["DraftView"], paths: string[]) {
  const wrong = paths.reduce((sum, path) => sum + faultsAt(draft, path).length, 0);
  return (
    <span>
      {words}
      {wrong > 0 && <span className="needs"> {say("{wrong} to fix", { wrong })}</span>}
    </span>
  );
}

function Head({ edit }: { edit: Edit }) {
  const write = (key: string, value: string) => edit.change({ ...edit.file, [key]: value });
  return (
    <section className="card pad asks">
      <label className="asked">
        {say("Name of the part")}
        <Input value={text(edit.file, "name")} maxLength={80} onChange={(e) => write("name", e.target.value)} />
      </label>
      <label className="asked">
        {say("Material")}
        <Select
          value={text(edit.file, "material")}
          showSearch={{ optionFilterProp: "label" }}
          options={edit.choices.materials.map((m) => ({ value: m, label: m }))}
          onChange={(value: string) => write("material", value)}
        />
      </label>
      <Counted edit={edit} path="minutes" label={say("Expected time, minutes")} empty={say("not given")} />
      <label className="asked wide">
        {say("What it is for")}
        <Input value={text(edit.file, "about")} maxLength={400} onChange={(e) => write("about", e.target.value)} />
      </label>
      <p className="small muted wide">
        {say("From {stock}. Finished part: {volume}.", { stock: edit.draft.stock, volume: edit.draft.volume })}{" "}
        {edit.draft.allowances.length > 0 &&
          say("To come off: {listed}.", { listed: edit.draft.allowances.map((a) => `${a.axis.toUpperCase()} ${a.text}`).join(", ") })}
      </p>
    </section>
  );
}

function Save({ edit, draft, project }: { edit: Edit; draft: Schema["DraftView"]; project?: Schema["ProjectDetail"] }) {
  const client = useQueryClient();
  const go = useNavigate();
  const [ids] = useState(() => ({ id: newId(), version: newId() }));
  const [words, setWords] = useState("");
  const saving = useMutation({
    mutationFn: () => {
      const file = JSON.stringify(edit.file);
      return project
        ? body(
            api.POST("/api/projects/{project}/versions", {
              params: { path: { project: project.id } },
              body: { id: ids.version, after: project.version, file, change: words },
            }),
          )
        : body(api.POST("/api/projects", { body: { ...ids, file } }));
    },
    onSuccess: async (fresh) => {
      client.setQueryData(queries.project(fresh.id).queryKey, fresh);
      await client.invalidateQueries({ queryKey: ["projects"] });
      void go(`/parts/${fresh.id}`);
    },
  });
  const left = draft.faults.length;
  return (
    <section className="card pad stack tight">
      {project && (
        <label className="asked">
          {say("What is changed")}
          <Input value={words} maxLength={400} onChange={(e) => setWords(e.target.value)} />
        </label>
      )}
      {saving.error && (
        <p className="error" role="alert">
          {saving.error instanceof Refusal && saving.error.fields.length > 0
            ? saving.error.fields.map((f) => `${f.field}: ${f.bound}`).join(" ")
            : wordsFor(saving.error)}
        </p>
      )}
      <div className="row">
        <Button
          type="primary"
          size="large"
          disabled={left > 0 || saving.isPending || (project !== undefined && words.trim() === "")}
          onClick={() => saving.mutate()}
        >
          {project ? say("Save as version {version_number}", { version_number: project.version_number + 1 }) : say("Save the part")}
        </Button>
        <SaveFile file={edit.file} />
        {left > 0 && <span className="small muted">{say("{left} to fix before it can be saved", { left })}</span>}
      </div>
    </section>
  );
}

/** The part as a file on one's own device, whatever state it is in. */
function SaveFile({ file }: { file: PartFile }) {
  return <Button onClick={() => download(text(file, "code") || "part", file)}>{say("Download as JSON")}</Button>;
}
