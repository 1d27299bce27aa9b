import { Button, Input } from "antd";
import { useState } from "react";
import { api, Away, body, wordsFor, type Me } from "../../api/client";
import { say } from "../../shared/say";
import { Join } from "./Join";
import { Refused } from "../../shared/Refused";
import "./signin.css";

/** The door. Plain on purpose: it shows before anything else has loaded. ``waits``: the server was not told yet who left. */
export function SignIn({ onSignedIn, waits }: { onSignedIn: (me: Me) => void; waits: boolean }) {
  const [login, setLogin] = useState("");
  const [password, setPassword] = useState("");
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const [joining, setJoining] = useState(false);
  const submit = async (event: React.SyntheticEvent) => {
    event.preventDefault();
    setBusy(true);
    setError("");
    try {
      onSignedIn(await body(api.POST("/api/sign-in", { body: { login, password } })));
    } catch (failed) {
      setError(failed instanceof Away ? say("{message} Try again in a moment.", { message: failed.message }) : wordsFor(failed));
      setBusy(false);
    }
  };
  return (
    <div className="door">
      <div className="door-plate" aria-hidden="true">
        <svg viewBox="0 0 400 300" width="100%">
          <g fill="none" stroke="#fff" strokeWidth="2.2">
            <path d="M70 210H330V170H250V130H160V90H70Z" />
          </g>
          <g fill="none" stroke="#b9c6ea">
            <path d="M70 225V262M330 225V262M70 255H330" />
            <path d="M342 170H366M342 210H366M358 170V210" strokeWidth="1" />
          </g>
          <g fill="none" stroke="#ffd782" strokeWidth="4">
            <path d="M160 130H250" />
          </g>
          <g fill="none" stroke="#ffd782">
            <path d="M258 130H392M342 210H392M384 130V210" />
          </g>
        </svg>
      </div>
      <main className="door-form">
        <h1 className="door-name">{say("INCUDO")}</h1>
        <p className="muted">{say("Plan it, set it up, cut it, measure it, sign it.")}</p>
        {waits && (
          <p className="muted" role="status">
            {say("You are signed out here. The server will be told as soon as it can be reached; then somebody can sign in.")}
          </p>
        )}
        {joining ? (
          <Join onSignedIn={onSignedIn} onBack={() => setJoining(false)} />
        ) : (
          <form className="stack" onSubmit={(e) => void submit(e)}>
            <label className="asked">
              {say("Name to sign in with")}
              <Input value={login} autoComplete="username" autoFocus maxLength={60} required onChange={(e) => setLogin(e.target.value)} />
            </label>
            <label className="asked">
              {say("Password")}
              <Input
                type="password"
                value={password}
                autoComplete="current-password"
                maxLength={200}
                required
                onChange={(e) => setPassword(e.target.value)}
              />
            </label>
            <Refused words={error} />
            <Button type="primary" size="large" htmlType="submit" loading={busy}>
              {busy ? say("One moment…") : say("Sign in")}
            </Button>
            <Button type="link" onClick={() => setJoining(true)}>
              {say("I have a code")}
            </Button>
            <a className="small" href="/verify">
              {say("Check somebody's credential")}
            </a>
          </form>
        )}
        <p className="small muted">
          {say(
            "Incudo never replaces supervision. The machine's manual, the shop's own rules and local law come first, and a qualified person decides.",
          )}
        </p>
      </main>
    </div>
  );
}
