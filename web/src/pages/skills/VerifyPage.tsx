import { Input } from "antd";
import { useEffect, useState } from "react";
import { api, body, type Schema } from "../../api/client";
import { PickFile } from "../../shared/PickFile";
import { say } from "../../shared/say";
import { dayOfYear } from "../../shared/time";
import { useAct } from "../../shared/useAct";
import { Refused } from "../../shared/Refused";
import "../people/signin.css";
import "./verify.css";

type Checked = Schema["CheckedCredential"];

/** Whether what somebody shows as their credential is genuine, and still valid: for anybody, without signing in. */
export default function VerifyPage() {
  const { act, error, busy } = useAct();
  const [found, setFound] = useState<Schema["CheckedFile"] | null>(null);
  const [pasted, setPasted] = useState("");
  useEffect(() => {
    document.title = say("Check a credential");
  }, []);
  const look = (file: string) =>
    act(async () => {
      setFound(null);
      setFound(await body(api.POST("/api/credentials/check", { body: { file } })));
    });
  return (
    <main className="page stack verify-page">
      <p className="door-name">{say("INCUDO")}</p>
      <h1>{say("Check a credential")}</h1>
      <p>
        {say(
          "Somebody has handed you a file with their signed skills. Choose it here: Incudo checks the signature, and what this shop's records say today. The file is not kept.",
        )}
      </p>
      <div className="row">
        <PickFile label={say("Choose the file")} accept=".json,application/json" onFile={(file) => void file.text().then(look)} />
        <span className="muted">{say("or paste its text:")}</span>
        <Input
          className="verify-text"
          aria-label={say("Text of the file")}
          value={pasted}
          onChange={(e) => {
            setPasted(e.target.value);
            if (e.target.value.trim()) void look(e.target.value);
          }}
        />
      </div>
      {busy && <p role="status">{say("One moment…")}</p>}
      <Refused words={error} />
      {found && (
        <>
          <p role="status">
            <b>{summary(found)}</b>
          </p>
          {found.credentials.map((c, i) => (
            <One key={c.name + String(i)} credential={c} />
          ))}
          <p className="small muted verify-key">{say("{shop} signs with {key}", { shop: found.shop, key: found.key })}</p>
        </>
      )}
      <p className="small muted">
        {say(
          "A credential says what somebody has shown in one shop. Whoever lets them run a machine decides for themselves and watches the first cuts.",
        )}
      </p>
    </main>
  );
}

function summary(found: Schema["CheckedFile"]): string {
  const count = found.credentials.length;
  const valid = found.credentials.filter((c) => c.holds).length;
  return say("{valid} of {count} are signed by this shop and valid today.", { valid, count });
}

const LOOKS = { valid: "verify-valid", unsure: "verify-unsure", bad: "verify-bad" };

function One({ credential: c }: { credential: Checked }) {
  const looks = c.holds ? "valid" : c.proof === "elsewhere" ? "unsure" : "bad";
  return (
    <section className={`card pad row verify-one ${LOOKS[looks]}`}>
      <Seal looks={looks} />
      <div className="grow">
        {c.name && <h2>{c.name}</h2>}
        {c.holder && (
          <p>
            <b className="head">{c.holder}</b>
            {c.signed_at &&
              (c.until
                ? say(", signed on {day}, good until {until}", { day: dayOfYear(c.signed_at), until: dayOfYear(c.until) })
                : say(", signed on {day}", { day: dayOfYear(c.signed_at) }))}
          </p>
        )}
        <p>{c.words}</p>
        {c.proof === "elsewhere" && <p className="small muted verify-key">{say("{shop} signs with {key}", { shop: c.shop, key: c.key })}</p>}
      </div>
    </section>
  );
}

/** A punched mark: whole with a scribed tick, empty, or struck through. */
function Seal({ looks }: { looks: keyof typeof LOOKS }) {
  return (
    <svg width="56" height="56" viewBox="0 0 48 48" aria-hidden="true" className="verify-seal">
      <path d="M14 3H34L45 14V34L34 45H14L3 34V14Z" fill="none" stroke="currentColor" strokeWidth="2.5" />
      {looks === "valid" && <path d="M13 25 21 33 36 15" fill="none" stroke="currentColor" strokeWidth="4" />}
      {looks === "unsure" && <path d="M24 13V28M24 33V36" fill="none" stroke="currentColor" strokeWidth="4" />}
      {looks === "bad" && <path d="M14 14 34 34M34 14 14 34" fill="none" stroke="currentColor" strokeWidth="4" />}
    </svg>
  );
}
