/** What stands in a page until its data are there, or why they are not. */
export function Loading({ error }: { error: Error | null }) {
  return <main className="page">{error ? <p className="error">{error.message}</p> : <p className="muted">One moment…</p>}</main>;
}
