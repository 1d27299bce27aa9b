import { Button, Segmented } from "antd";
import type { Schema } from "../../../api/client";
import { say } from "../../../shared/say";
import { Chosen, Counted, faultsAt, optionsOf, Typed, Wrong, type Edit } from "./Asking";
import { get, items, text, without } from "./file";

type Act = NonNullable<Schema["DraftCommand"]["act"]>;
type Acting = (act: Act) => Promise<boolean>;

/** The features of a part, each with its own few numbers. */
export function Features({ edit, act }: { edit: Edit; act: Acting }) {
  const found = items(edit.file, "features");
  return (
    <>
      {found.map((feature, n) => (
        <Feature key={n} edit={edit} act={act} n={n} kind={text(feature, "kind")} />
      ))}
      {found.length === 0 && (
        <p className="muted small">{say("Nothing is cut yet. Touch a face on the drawing, then choose what to cut from it.")}</p>
      )}
    </>
  );
}

function Feature({ edit, act, n, kind }: { edit: Edit; act: Acting; n: number; kind: string }) {
  const at = `features.${n}`;
  const spec = edit.choices.kinds.find((k) => k.key === kind);
  if (!spec) return null;
  const whole = faultsAt(edit.draft, at).filter((f) => f.field === at);
  return (
    <fieldset className={faultsAt(edit.draft, at).length > 0 ? "feature wrong" : "feature"}>
      <legend>{spec.words}</legend>
      <div className="asks">
        <Typed edit={edit} path={`${at}.name`} label={say("Name")} />
        {spec.fields.map((f) => (
          <Field key={f.path} edit={edit} act={act} n={n} field={f} />
        ))}
      </div>
      {spec.groups.map((g) => (
        <Group key={g.path} edit={edit} act={act} n={n} group={g} />
      ))}
      {whole.length > 0 && <Wrong draft={edit.draft} path={at} />}
      <div className="row">
        <Button size="small" onClick={() => edit.change(without(edit.file, "features", n))}>
          {say("Remove {name}", { name: text(edit.file, `${at}.name`) })}
        </Button>
      </div>
    </fieldset>
  );
}

function Group({ edit, act, n, group }: { edit: Edit; act: Acting; n: number; group: Schema["FeatureGroup"] }) {
  const there = get(edit.file, `features.${n}.${group.path}`);
  const own = text(edit.file, `features.${n}.${group.path}.${group.path}`);
  const now = own || (there ? "given" : "");
  const variant = group.variants.find((v) => v.key === now);
  const name = group.path as "layout" | "thread" | "countersink" | "counterbore";
  return (
    <div className="stack tight">
      <Segmented
        aria-label={group.words}
        value={now}
        options={group.variants.map((v) => ({ value: v.key, label: v.words }))}
        onChange={(key) => void act({ kind: "vary", feature: n, group: name, variant: key })}
      />
      {variant && variant.fields.length > 0 && (
        <div className="asks">
          {variant.fields.map((f) => (
            <Field key={f.path} edit={edit} act={act} n={n} field={f} />
          ))}
        </div>
      )}
    </div>
  );
}

function Field({ edit, act, n, field }: { edit: Edit; act: Acting; n: number; field: Schema["FeatureField"] }) {
  const path = `features.${n}.${field.path}`;
  const axis = field.across === null ? undefined : edit.draft.axes[n]?.[field.across];
  const common = { edit, path, label: axis ? `${field.words}, ${axis}` : field.words };
  switch (field.of) {
    case "face":
      return <Chosen {...common} options={optionsOf(edit.draft.faces)} />;
    case "axis":
      return <Chosen {...common} options={["x", "y", "z"].map((a) => ({ value: a, label: a.toUpperCase() }))} />;
    case "choice":
      return <Chosen {...common} options={optionsOf(field.choices)} />;
    case "thread":
      return (
        <Chosen
          {...common}
          options={edit.choices.threads.filter((t) => t.name === edit.file["unit"]).map((t) => ({ value: t.id, label: t.id }))}
          onChoose={(thread) => void act({ kind: "thread", feature: n, thread })}
        />
      );
    case "count":
      return <Counted {...common} />;
    default:
      return <Typed {...common} {...(field.empty && { empty: field.empty })} />;
  }
}
