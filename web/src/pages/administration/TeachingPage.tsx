import { useMe } from "../../shared/me";
import { say } from "../../shared/say";
import { LadderFile } from "./LadderFile";
import { Papers } from "./Papers";

/** What is taught and asked here, and what goes onto the wall. */
export default function TeachingPage() {
  return (
    <main className="page stack">
      <h1>{say("Teaching")}</h1>
      <LadderFile mayChange={useMe().role === "instructor"} />
      <section className="card pad stack">
        <h2>{say("To print")}</h2>
        <Papers />
      </section>
    </main>
  );
}
