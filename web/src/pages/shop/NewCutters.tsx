import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Input, Segmented, Select } from "antd";
import { useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Dialog } from "../../shared/Dialog";
import { Loading } from "../../shared/Loading";
import { useUnit } from "../../instruments/length";
import { say, sayMany } from "../../shared/say";
import { useAct } from "../../shared/useAct";
import { EntryForm } from "../../shared/EntryForm";

type Sent = Schema["NewCuttersCommand"];
type Kind = Schema["CutterKindView"];

/** What lies in a drawer: one kind of cutter in several sizes, entered in one go. */
export function NewCutters({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const { data, error: missing } = useQuery(queries.cutterKinds());
  const { act, error, busy } = useAct();
  const unit = useUnit();
  const [text, setText] = useState("");
  const [it, setIt] = useState<Omit<Sent, "kind" | "made_of" | "sizes">>(() => ({
    id: newId(),
    unit,
    owned: 1,
    keep: 0,
    stickout: "",
    name: "",
    teeth: 0,
    length: "",
    angle: "",
    tap: "",
    dial: "",
    holder: "",
    place: "",
  }));
  const [kind, setKind] = useState<Kind>();
  const [madeOf, setMadeOf] = useState<Sent["made_of"]>();
  const sizes = text
    .split(/[,;\n]/)
    .map((s) => s.trim())
    .filter(Boolean);
  const threads = (kind?.taps.length ?? 0) > 0;
  const change = (more: Partial<typeof it>) => setIt({ ...it, ...more });
  const choose = (next: Kind) => {
    setKind(next);
    setMadeOf(madeOf ?? data?.made_of[0]);
    setText("");
    change({
      teeth: next.teeth[0] ?? 0,
      stickout: next.wide ? "" : it.stickout,
      angle: next.angles.length > 0 ? String(next.angles[0]) : "",
      holder: next.holders[0] ?? "",
      tap: next.taps[0] ?? "",
      dial: next.dials[0] ?? "",
    });
  };
  const save = () =>
    act(async () => {
      if (!kind || !madeOf) return;
      const stock = await body(
        api.POST("/api/cutters", { body: { ...it, length: sizes.length > 1 ? "" : it.length, kind: kind.kind, made_of: madeOf, sizes } }),
      );
      client.setQueryData(queries.stock().queryKey, stock);
      await client.invalidateQueries();
      onClose();
    });
  return (
    <Dialog title={say("Add cutters")} onClose={onClose}>
      {!data ? (
        <Loading error={missing} />
      ) : (
        <EntryForm
          onSend={save}
          yes={sizes.length > 0 ? sayMany("Add {count} size", "Add {count} sizes", sizes.length) : say("Add cutters")}
          refused={error}
          busy={busy}
          ready={!!kind && sizes.length !== 0 && it.owned >= 1}
        >
          <label className="asked">
            {say("Kind of cutter")}
            <Select
              showSearch={{ optionFilterProp: "label" }}
              value={kind?.kind}
              options={data.kinds.map((k) => ({ value: k.kind, label: say(k.kind) }))}
              onChange={(next) => {
                const found = data.kinds.find((k) => k.kind === next);
                if (found) choose(found);
              }}
            />
          </label>
          {kind && (
            <>
              {threads ? (
                <label className="asked">
                  {say("Threads")}
                  <Select
                    mode="multiple"
                    maxCount={data.most_sizes}
                    value={sizes}
                    options={data.threads.map((x) => ({ value: x, label: x }))}
                    onChange={(all: string[]) => setText(all.join(","))}
                  />
                </label>
              ) : (
                <>
                  <Segmented
                    aria-label={say("Unit of the sizes")}
                    value={it.unit}
                    onChange={(next) => change({ unit: next })}
                    options={["in", "mm"] as const}
                  />
                  <label className="asked">
                    {kind.kind === "drill" ? say("Sizes as they are stamped: 1/8, #7, F") : say("Diameters: 0.25, 3/8, 1 1/4")}
                    <Input.TextArea rows={2} maxLength={1000} spellCheck={false} value={text} onChange={(e) => setText(e.target.value)} />
                  </label>
                </>
              )}
              <div className="row wraps">
                {kind.teeth.length > 1 && (
                  <Choice words={say("Teeth")} value={String(it.teeth)} of={kind.teeth.map(String)} onChange={(x) => change({ teeth: Number(x) })} />
                )}
                {kind.angles.length > 1 && (
                  <Choice words={say("Angle, degrees")} value={it.angle} of={kind.angles.map(String)} onChange={(angle) => change({ angle })} />
                )}
                {threads && (
                  <Choice words={say("Makes the thread by")} value={it.tap} of={kind.taps} onChange={(tap) => change({ tap: tap as Sent["tap"] })} />
                )}
                {kind.dials.length > 0 && (
                  <Choice
                    words={say("Its dial reads on the")}
                    value={it.dial}
                    of={kind.dials}
                    onChange={(dial) => change({ dial: dial as Sent["dial"] })}
                  />
                )}
                <Choice words={say("Made of")} value={madeOf} of={data.made_of} onChange={(x) => setMadeOf(x as Sent["made_of"])} />
              </div>
              <div className="row wraps">
                <label className="asked grow">
                  {say("How many of each")}
                  <Input
                    inputMode="numeric"
                    maxLength={3}
                    value={it.owned || ""}
                    onChange={(e) => change({ owned: Number(e.target.value.replace(/\D/g, "")) })}
                  />
                </label>
                <label className="asked grow">
                  {say("Low below how many (0: not watched)")}
                  <Input
                    inputMode="numeric"
                    maxLength={3}
                    value={it.keep}
                    onChange={(e) => change({ keep: Number(e.target.value.replace(/\D/g, "")) })}
                  />
                </label>
              </div>
              {sizes.length < 2 && (
                <div className="row wraps">
                  {!threads && (
                    <label className="asked grow">
                      {kind.wide ? say("Width, {unit}", { unit: it.unit }) : say("Cutting length, {unit}; empty if unknown", { unit: it.unit })}
                      <Input inputMode="decimal" maxLength={12} value={it.length} onChange={(e) => change({ length: e.target.value })} />
                    </label>
                  )}
                  {!kind.wide && (
                    <label className="asked grow">
                      {say("Stick-out, {unit}; empty if unknown", { unit: it.unit })}
                      <Input inputMode="decimal" maxLength={12} value={it.stickout} onChange={(e) => change({ stickout: e.target.value })} />
                    </label>
                  )}
                </div>
              )}
              <div className="row wraps">
                {kind.holders.length > 0 && (
                  <label className="asked grow">
                    {say("Held in")}
                    <Select
                      value={it.holder}
                      options={data.holders.filter((h) => kind.holders.includes(h.key)).map((h) => ({ value: h.key, label: h.name }))}
                      onChange={(holder) => change({ holder })}
                    />
                  </label>
                )}
                <label className="asked grow">
                  {say("Place in the crib")}
                  <Input maxLength={40} value={it.place} onChange={(e) => change({ place: e.target.value })} />
                </label>
              </div>
            </>
          )}
        </EntryForm>
      )}
    </Dialog>
  );
}

function Choice(p: { words: string; value: string | undefined; of: readonly string[]; onChange: (value: string) => void }) {
  return (
    <label className="asked grow">
      {p.words}
      <Select value={p.value} options={p.of.map((x) => ({ value: x, label: say(x) }))} onChange={p.onChange} />
    </label>
  );
}
