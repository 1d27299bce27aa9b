import { useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useEffect, useState } from "react";
import { forgetKnown, Away, Refusal, setToken, type Me } from "../api/client";
import { queries } from "../api/queries";
import { useReached } from "../api/reach";
import { FirstRun } from "../pages/people/FirstRun";
import { SignIn } from "../pages/people/SignIn";
import { Loading } from "../shared/Loading";
import { hasLeft, onLeft, tellServer } from "./leaving";

const Inside = lazy(() => import("./Inside"));

/** How often the server is told again that somebody has left, in milliseconds. */
const AGAIN = 3_000;

/** The last person who signed in here: enough to show their page while the network is away. */
const KEPT = "incudo-me";

function keptMe(): Me | undefined {
  const kept = localStorage.getItem(KEPT);
  return kept ? (JSON.parse(kept) as Me) : undefined;
}

/** What was seen here belongs to whoever was signed in; without a worker nothing was kept. */
function forgetSeen(): void {
  forgetKnown();
  if ("serviceWorker" in navigator) navigator.serviceWorker.controller?.postMessage("forget");
}

/** The door, and behind it everything else. */
export function App() {
  const client = useQueryClient();
  const [left, setLeft] = useState(hasLeft);
  const asked = useQuery({ ...queries.me(), enabled: !left });
  const away = !useReached();
  // an empty installation asks to be set up
  const empty = useQuery({ ...queries.firstRun(), enabled: !left && asked.error instanceof Refusal });
  const me = left ? undefined : (asked.data ?? (asked.error instanceof Away ? keptMe() : undefined));

  useEffect(() => {
    if (!asked.data) return;
    setToken(asked.data.token);
    localStorage.setItem(KEPT, JSON.stringify(asked.data));
  }, [asked.data]);

  const signedIn = useCallback(
    (next: Me) => {
      forgetSeen();
      setToken(next.token);
      client.removeQueries({ predicate: (q) => q.queryKey[0] !== "me" });
      client.setQueryData(queries.me().queryKey, next);
    },
    [client],
  );
  const forget = useCallback(() => {
    forgetSeen();
    setToken("");
    localStorage.removeItem(KEPT);
    client.removeQueries({ predicate: (q) => q.queryKey[0] !== "me" });
  }, [client]);
  const signedOut = useCallback(() => {
    setLeft(true);
    forget();
    client.removeQueries({ queryKey: queries.me().queryKey });
  }, [client, forget]);
  useEffect(() => onLeft(signedOut), [signedOut]);

  // the server is told of a session that was left as soon as it can be reached
  useEffect(() => {
    if (!left) return;
    let asking = false;
    const tell = () => {
      if (asking) return;
      asking = true;
      void tellServer().then((told) => {
        asking = false;
        if (told) setLeft(false);
      });
    };
    tell();
    const timer = setInterval(tell, AGAIN);
    window.addEventListener("online", tell);
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", tell);
    };
  }, [left]);

  // a session that the server has ended leaves nothing behind here either
  const ended = asked.error instanceof Refusal && asked.error.status === 401;
  useEffect(() => {
    if (ended && localStorage.getItem(KEPT) !== null) forget();
  }, [ended, forget]);

  if (!left && asked.isPending && !me) return <Loading />;
  if (!me)
    return empty.data?.empty ? <FirstRun onSignedIn={signedIn} spellings={empty.data.spellings} /> : <SignIn onSignedIn={signedIn} waits={left} />;
  return (
    <Suspense fallback={<Loading />}>
      <Inside me={me} away={away} onSignedOut={signedOut} />
    </Suspense>
  );
}
