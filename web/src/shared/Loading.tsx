import { Skeleton } from "antd";
import { say } from "./say";

/** While a page is on its way: its outline; and why it did not come. */
export function Loading({ error }: { error?: Error | null }) {
  return (
    <main className="page">
      <Waiting error={error ?? null} />
    </main>
  );
}

/** The same for a part of a page. */
export function Waiting({ error }: { error?: Error | null }) {
  if (error)
    return (
      <p className="error" role="alert">
        {error.message}
      </p>
    );
  return (
    <div aria-busy="true">
      <span className="sr">{say("One moment…")}</span>
      <Skeleton active title={false} paragraph={{ rows: 4 }} />
    </div>
  );
}
