import { Button } from "antd";
import { useState } from "react";
import { api, body, type Me } from "../api/client";
import { Dialog } from "../shared/Dialog";
import { download } from "../shared/download";
import { PAPERS } from "../shared/papers";
import { savePaper } from "../shared/ownPaper";
import { say } from "../shared/say";
import { useAct } from "../shared/useAct";
import { Refused } from "../shared/Refused";

/** Everything that is kept of oneself, as a file. */
export function MyData({ me, onClose }: { me: Me; onClose: () => void }) {
  const { act, error, busy } = useAct();
  const [taken, setTaken] = useState(0);
  const take = () =>
    act(async () => {
      const found = await body(api.POST("/api/people/{person}/data", { params: { path: { person: me.id } }, body: { pin: "" } }));
      setTaken(found.tables.reduce((sum, x) => sum + x.rows.length, 0));
      download(`incudo-${me.name}`, found);
    });
  return (
    <Dialog title={say("What is kept about me")} onClose={onClose}>
      <div className="stack">
        <p>
          {say(
            "Everything that this shop keeps under your name, as one JSON file: parts, readings, plans, skills, sessions, answers. What was read on a part that is not decided yet is left out until it is.",
          )}
        </p>
        {taken > 0 && <p role="status">{say("{count} entries are in the file. Keep it where others do not read it.", { count: taken })}</p>}
        <Refused words={error} />
        <Button type="primary" size="large" disabled={busy} onClick={() => void take()}>
          {say("Download my data")}
        </Button>
        <div className="row">
          {PAPERS.map((paper) => (
            <Button key={paper} className="grow" disabled={busy} onClick={() => void act(() => savePaper(me.id, me.name, paper, ""))}>
              {say("To read, {paper}", { paper })}
            </Button>
          ))}
        </div>
      </div>
    </Dialog>
  );
}
