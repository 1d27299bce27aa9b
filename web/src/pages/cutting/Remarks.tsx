import { Button, Input } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { say } from "../../shared/say";
import { clock } from "../../shared/time";
import { useAct } from "../../shared/useAct";
import { Refused } from "../../shared/Refused";

/** So many of the newest are shown. */
const SHOWN = 3;

/** What whoever teaches said on this card; and for them the line to say something at the step that is shown. */
export function Remarks({ card, step }: { card: Schema["RunCardView"]; step: Schema["RunStepView"] }) {
  const me = useMe();
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [words, setWords] = useState("");
  const teaches = me.role === "instructor" || me.role === "assistant";
  const send = () =>
    act(async () => {
      const answer = await body(
        api.POST("/api/attempts/{attempt}/remarks", {
          params: { path: { attempt: card.attempt } },
          body: { id: newId(), step: step.id, words },
        }),
      );
      client.setQueryData(queries.run(card.assignment).queryKey, answer);
      setWords("");
    });
  return (
    <>
      {card.remarks.slice(0, SHOWN).map((r) => (
        <p key={r.at} className="run-remark" role="status">
          <b>{r.words}</b>{" "}
          <span className="small">
            {r.by}, {clock(r.at)}, {card.steps.find((s) => s.id === r.step)?.title}
          </span>
        </p>
      ))}
      {teaches && (
        <form
          className="row no-print"
          onSubmit={(event) => {
            event.preventDefault();
            if (words.trim()) void send();
          }}
        >
          <label className="grow">
            {say("Add a remark to this card")}
            <Input size="large" maxLength={400} value={words} onChange={(e) => setWords(e.target.value)} />
          </label>
          <Button size="large" htmlType="submit" disabled={busy || !words.trim()}>
            {say("Send")}
          </Button>
        </form>
      )}
      <Refused words={error} />
    </>
  );
}
