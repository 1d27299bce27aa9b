import { Input, Select } from "antd";
import type { Schema } from "../../../api/client";
import { say } from "../../../shared/say";
import { get, set, text, type PartFile } from "./file";

export type Edit = {
  file: PartFile;
  draft: Schema["DraftView"];
  choices: Schema["PartChoices"];
  change: (next: PartFile) => void;
};

/** What is wrong at a path of the file, or further in. */
export function faultsAt(draft: Schema["DraftView"], path: string): Schema["DraftFault"][] {
  return draft.faults.filter((f) => f.field === path || f.field.startsWith(`${path}.`));
}

/** What is wrong at one number, said there. */
export function Wrong({ draft, path }: { draft: Schema["DraftView"]; path: string }) {
  const found = faultsAt(draft, path);
  if (found.length === 0) return null;
  return (
    <span className="error small" role="alert">
      {found.map((f) => f.bound).join(" ")}
    </span>
  );
}

/** One field of the file, typed. */
export function Typed(p: { edit: Edit; path: string; label: string; empty?: string; wide?: boolean; long?: boolean; most?: number }) {
  const { edit, path, label, empty, most = 40 } = p;
  const wrong = faultsAt(edit.draft, path).length > 0;
  const write = (value: string) => edit.change(set(edit.file, path, value === "" && empty !== undefined ? null : value) as PartFile);
  return (
    <label className={p.wide ? "asked wide" : "asked"}>
      {label}
      <Input
        value={text(edit.file, path)}
        placeholder={empty ?? ""}
        maxLength={most}
        status={wrong ? "error" : ""}
        onChange={(e) => write(e.target.value)}
        autoComplete="off"
      />
      <Wrong draft={edit.draft} path={path} />
    </label>
  );
}

/** One field of the file, counted in whole numbers. */
export function Counted(p: { edit: Edit; path: string; label: string; empty?: string }) {
  const { edit, path, label } = p;
  const write = (typed: string) => {
    const whole = /^\d{1,4}$/.test(typed);
    const left = typed === "" && p.empty !== undefined ? null : typed;
    edit.change(set(edit.file, path, whole ? Number(typed) : left) as PartFile);
  };
  return (
    <label className="asked">
      {label}
      <Input
        value={text(edit.file, path)}
        inputMode="numeric"
        placeholder={p.empty ?? ""}
        maxLength={4}
        onChange={(e) => write(e.target.value)}
        autoComplete="off"
      />
      <Wrong draft={edit.draft} path={path} />
    </label>
  );
}

/** One field of the file, chosen. */
export function Chosen(p: {
  edit: Edit;
  path: string;
  label: string;
  options: { value: string; label: string }[];
  onChoose?: (value: string) => void;
}) {
  const { edit, path, label, options } = p;
  const now = get(edit.file, path);
  return (
    <label className="asked">
      {label}
      <Select
        value={typeof now === "string" ? now : ""}
        options={options}
        showSearch={{ optionFilterProp: "label" }}
        status={faultsAt(edit.draft, path).length > 0 ? "error" : ""}
        onChange={(value: string) => (p.onChoose ? p.onChoose(value) : edit.change(set(edit.file, path, value) as PartFile))}
      />
      <Wrong draft={edit.draft} path={path} />
    </label>
  );
}

/** Choices of the server as options of a list. */
export function optionsOf(found: readonly Schema["KeyedChoice"][]): { value: string; label: string }[] {
  return found.map((c) => ({ value: c.id, label: c.name || say("none") }));
}
