import { Button, Input } from "antd";
import { useState } from "react";
import { api, Away, body, wordsFor, type Me, type Schema } from "../../api/client";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Whose = Schema["JoinView"];

/** Coming in by the code on a slip: whose it is, a password of one's own, and for those who confirm acts a PIN. */
export function Join({ onSignedIn, onBack }: { onSignedIn: (me: Me) => void; onBack: () => void }) {
  const [code, setCode] = useState("");
  const [whose, setWhose] = useState<Whose | null>(null);
  const [password, setPassword] = useState("");
  const [again, setAgain] = useState("");
  const [pin, setPin] = useState("");
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const differs = again !== "" && again !== password;
  const ready = password.length >= 8 && again === password && (!whose?.wants_pin || pin.length >= 4);
  const run = async (what: () => Promise<void>) => {
    setBusy(true);
    setError("");
    try {
      await what();
    } catch (failed) {
      setError(failed instanceof Away ? say("{message} Try again in a moment.", { message: failed.message }) : wordsFor(failed));
    }
    setBusy(false);
  };
  const look = () => run(async () => setWhose(await body(api.POST("/api/codes/look", { body: { code } }))));
  const take = (of: Whose) =>
    run(async () => {
      await body(api.POST("/api/codes/take", { body: { code, password, pin: of.wants_pin ? pin : null } }));
      onSignedIn(await body(api.POST("/api/sign-in", { body: { login: of.login, password } })));
    });
  return (
    <form
      className="stack"
      onSubmit={(event) => {
        event.preventDefault();
        void (whose ? take(whose) : look());
      }}
    >
      {!whose && (
        <label className="asked">
          {say("The code on your slip")}
          <Input value={code} autoFocus autoComplete="off" autoCapitalize="off" maxLength={40} required onChange={(e) => setCode(e.target.value)} />
        </label>
      )}
      {whose && (
        <>
          <p>{say("{name}, you sign in as {login}.", { name: whose.name, login: whose.login })}</p>
          {/* a keeper of passwords learns what it belongs to */}
          <Input className="sr" value={whose.login} autoComplete="username" readOnly tabIndex={-1} aria-hidden="true" />
          <label className="asked">
            {say("New password, at least 8 characters")}
            <Input
              type="password"
              value={password}
              autoFocus
              autoComplete="new-password"
              maxLength={200}
              required
              onChange={(e) => setPassword(e.target.value)}
            />
          </label>
          <label className="asked">
            {say("The same again")}
            <Input
              type="password"
              value={again}
              status={differs ? "error" : ""}
              autoComplete="new-password"
              maxLength={200}
              required
              onChange={(e) => setAgain(e.target.value)}
            />
          </label>
          {differs && <p className="small needs">{say("The two passwords differ.")}</p>}
          {whose.wants_pin && (
            <label className="asked">
              {say("A PIN of 4 to 8 digits: you confirm starts and signatures with it")}
              <Input
                type="password"
                inputMode="numeric"
                value={pin}
                autoComplete="off"
                maxLength={8}
                required
                onChange={(e) => setPin(e.target.value.replace(/\D/g, ""))}
              />
            </label>
          )}
        </>
      )}
      <Refused words={error} />
      <Button type="primary" size="large" htmlType="submit" loading={busy} disabled={whose ? !ready : code.trim() === ""}>
        {whose ? say("Save and sign in") : say("Next")}
      </Button>
      <Button type="link" onClick={onBack}>
        {say("Back to sign in")}
      </Button>
    </form>
  );
}
