import { useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useEffect } from "react";
import { Away, setToken, type Me } from "../api/client";
import { queries } from "../api/queries";
import { useReached } from "../api/reach";
import { SignIn } from "../pages/people/SignIn";
import { Loading } from "../shared/Loading";

const Inside = lazy(() => import("./Inside"));

/** The last person who signed in here: enough to show their page while the network is away. */
const KEPT = "incudo-me";

function keptMe(): Me | undefined {
  const kept = localStorage.getItem(KEPT);
  return kept ? (JSON.parse(kept) as Me) : undefined;
}

/** What was seen here belongs to whoever was signed in; without a worker nothing was kept. */
function forgetSeen(): void {
  if ("serviceWorker" in navigator) navigator.serviceWorker.controller?.postMessage("forget");
}

/** The door, and behind it everything else. */
export function App() {
  const client = useQueryClient();
  const asked = useQuery(queries.me());
  const away = !useReached();
  const me = asked.data ?? (asked.error instanceof Away ? keptMe() : undefined);

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
  const signedOut = useCallback(() => {
    forgetSeen();
    localStorage.removeItem(KEPT);
    client.removeQueries({ predicate: (q) => q.queryKey[0] !== "me" });
    void client.resetQueries({ queryKey: queries.me().queryKey });
  }, [client]);

  if (asked.isPending && !me) return <Loading />;
  if (!me) return <SignIn onSignedIn={signedIn} />;
  return (
    <Suspense fallback={<Loading />}>
      <Inside me={me} away={away} onSignedOut={signedOut} />
    </Suspense>
  );
}
