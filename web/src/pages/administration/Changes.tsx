import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Lines } from "../../shared/Lines";
import { Refused } from "../../shared/Refused";
import { say } from "../../shared/say";
import { when } from "../../shared/time";
import { useAct } from "../../shared/useAct";

type Thing = Schema["GoneThing"];

const KINDS = { machine: say("machine"), gauge: say("gauge"), holding: say("workholding"), cutter: say("cutter"), material: say("material") };

/** What is not in the shop any more, and who changed what of it when. */
export function Changes({ mayChange }: { mayChange: boolean }) {
  const client = useQueryClient();
  const { data } = useQuery(queries.gone());
  const { act, error, busy } = useAct();
  const back = (g: Thing) =>
    act(async () => {
      const sent = { id: newId(), thing: g.thing, key: g.what.id, gone: false, why: "" };
      client.setQueryData(queries.gone().queryKey, await body(api.POST("/api/gone", { body: sent })));
      await client.invalidateQueries();
    });
  if (!data) return null;
  return (
    <>
      {data.gone.length > 0 && (
        <section className="card">
          <h2 className="pad">{say("No longer in the shop")}</h2>
          <Lines
            rows={data.gone}
            rowKey={(g) => g.what.id}
            columns={[
              { key: "0", title: say("Name"), render: (_, g) => <b>{g.what.name}</b> },
              { key: "1", title: say("What"), render: (_, g) => KINDS[g.thing] },
              { key: "2", title: say("Why"), className: "wraps", render: (_, g) => g.why },
              {
                key: "3",
                title: "",
                className: "num",
                render: (_, g) =>
                  mayChange && (
                    <Button disabled={busy} aria-label={say("Put {name} back", { name: g.what.name })} onClick={() => void back(g)}>
                      {say("Put it back")}
                    </Button>
                  ),
              },
            ]}
          />
          <Refused words={error} />
        </section>
      )}
      <section className="card" id="changes">
        <h2 className="pad">{say("What was changed")}</h2>
        {data.acts.length === 0 ? (
          <p className="pad muted">{say("Nothing yet. Changes made on this page, and what is removed from the shop, are listed here.")}</p>
        ) : (
          <Lines
            rows={data.acts}
            rowKey={(a) => a.at + a.words}
            columns={[
              { key: "0", title: say("When"), className: "nowrap", render: (_, a) => when(a.at) },
              { key: "1", title: say("Who"), className: "nowrap", render: (_, a) => a.by },
              { key: "2", title: say("What"), className: "wraps", render: (_, a) => a.words },
            ]}
          />
        )}
      </section>
    </>
  );
}
