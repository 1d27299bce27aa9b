import { sure } from "../../shared/sure";
import { Button, Checkbox, Input } from "antd";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { VerdictWord } from "../../instruments/verdict";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Kind = Schema["Disposition"];
type Choice = { kind?: Kind; reason: string; counts: boolean };

const KINDS: { kind: Kind; word: string }[] = [
  { kind: "rework", word: say("Rework") },
  { kind: "accept", word: say("Accept") },
  { kind: "scrap", word: say("Scrap") },
];

/** What is done about each characteristic that is not in; then the part is decided. */
export function Decide({
  sheet,
  onDecided,
  onChoose,
}: {
  sheet: Schema["CheckSheet"];
  onDecided: (fresh: Schema["CheckSheet"]) => void;
  onChoose: (number: number) => void;
}) {
  const open = sheet.rows.filter((r) => r.of_record && r.of_record !== "in");
  const [choices, setChoices] = useState<Record<number, Choice>>({});
  const [remark, setRemark] = useState("");
  const [id] = useState(newId);
  const choice = (n: number): Choice => choices[n] ?? { reason: "", counts: false };
  const set = (n: number, change: Partial<Choice>) => setChoices({ ...choices, [n]: { ...choice(n), ...change } });
  const deciding = useMutation({
    mutationFn: () =>
      body(
        api.POST("/api/hand-ins/{hand_in}/decision", {
          params: { path: { hand_in: sheet.hand_in } },
          body: {
            id,
            remark,
            count_reworked: false,
            dispositions: open.flatMap((r) => {
              const c = choice(r.number);
              return c.kind
                ? [
                    {
                      characteristic: r.number,
                      kind: c.kind,
                      reason: c.reason,
                      counts: c.counts && c.kind === "accept",
                    },
                  ]
                : [];
            }),
          },
        }),
      ),
    onSuccess: onDecided,
  });
  const undecided = open.filter((r) => !choice(r.number).kind);
  const unreasoned = open.filter((r) => choice(r.number).kind === "accept" && choice(r.number).reason.trim().length < 3);
  const kinds = open.map((r) => choice(r.number).kind);
  const act = kinds.includes("scrap") ? say("Scrap the part") : kinds.includes("rework") ? say("Return for rework") : say("Accept the part");
  return (
    <section className="card pad stack">
      <h2>{say("Decide")}</h2>
      {open.length === 0 && <p>{say("Everything is within its limits. Accept the part, with a message to the student.")}</p>}
      {open.map((r) => {
        const c = sure(sheet.card.characteristics.find((x) => x.number === r.number));
        const chosen = choice(r.number);
        return (
          <div key={r.number} className="dispose" data-dispose={r.number}>
            <Button type="text" className="plain between" onClick={() => onChoose(r.number)}>
              <b className="head">
                {r.number} {c.name}
              </b>
              <VerdictWord verdict={sure(r.of_record)} />
            </Button>
            <div className="row" role="group" aria-label={say("What is done about {name}", { name: c.name })}>
              {KINDS.filter((k) => !(k.kind === "rework" && r.of_record === "out_metal_gone")).map((k) => (
                <Button
                  key={k.kind}
                  size="large"
                  type={chosen.kind === k.kind && k.kind !== "scrap" ? "primary" : "default"}
                  danger={chosen.kind === k.kind && k.kind === "scrap"}
                  aria-pressed={chosen.kind === k.kind}
                  onClick={() => set(r.number, { kind: k.kind })}
                >
                  {k.word}
                </Button>
              ))}
            </div>
            {chosen.kind && (
              <label className="asked">
                {chosen.kind === "accept" ? say("Why it can be accepted (required)") : say("What to do about it")}
                <Input maxLength={400} value={chosen.reason} onChange={(e) => set(r.number, { reason: e.target.value })} />
              </label>
            )}
            {chosen.kind === "accept" && (
              <Checkbox className="row small" checked={chosen.counts} onChange={(e) => set(r.number, { counts: e.target.checked })}>
                {say("counts as evidence for a skill all the same")}
              </Checkbox>
            )}
          </div>
        );
      })}
      <label className="asked">
        {say("Message to the student")}
        <Input.TextArea rows={2} maxLength={400} value={remark} onChange={(e) => setRemark(e.target.value)} />
      </label>
      <Refused by={deciding.error} />
      <Button
        type={kinds.includes("scrap") ? "default" : "primary"}
        danger={kinds.includes("scrap")}
        size="large"
        disabled={undecided.length > 0 || unreasoned.length > 0 || deciding.isPending}
        onClick={() => deciding.mutate()}
      >
        {undecided.length > 0 ? say("Decide about {listed} first", { listed: undecided.map((r) => r.number).join(", ") }) : act}
      </Button>
    </section>
  );
}
