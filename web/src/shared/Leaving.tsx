import { useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { api, body, newId, type Schema } from "../api/client";
import { queries } from "../api/queries";
import { Dialog } from "./Dialog";
import { say } from "./say";
import { useAct } from "./useAct";
import { EntryForm } from "./EntryForm";

/** By which something leaves the shop, with its reason: sold, scrapped, entered twice. */
export function Leaving({ thing, what, onGone }: { thing: Schema["Thing"]; what: Schema["Named"]; onGone?: () => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [asking, setAsking] = useState("");
  const [why, setWhy] = useState("");
  const leave = () =>
    act(async () => {
      const sent = { id: asking, thing, key: what.id, gone: true, why: why.trim() };
      client.setQueryData(queries.gone().queryKey, await body(api.POST("/api/gone", { body: sent })));
      await client.invalidateQueries();
      setAsking("");
      onGone?.();
    });
  return (
    <>
      <Button onClick={() => setAsking(newId())} aria-label={say("Remove from the shop: {name}", { name: what.name })}>
        {say("Remove from the shop")}
      </Button>
      {asking && (
        <Dialog title={say("Remove {name} from the shop", { name: what.name })} onClose={() => setAsking("")}>
          <EntryForm onSend={leave} yes={say("Remove from the shop")} refused={error} busy={busy} danger>
            <p>{say("It is no longer offered. What was made, measured and signed with it stays as it is. You can put it back under How we work.")}</p>
            <label className="asked">
              {say("Reason: sold, scrapped, entered twice")}
              <Input value={why} maxLength={200} autoFocus onChange={(e) => setWhy(e.target.value)} />
            </label>
          </EntryForm>
        </Dialog>
      )}
    </>
  );
}
