import { useMe } from "../../shared/me";
import { say } from "../../shared/say";
import { Workholding } from "./Workholding";

/** What holds the work and the cutters. */
export default function WorkholdingPage() {
  return (
    <main className="page stack">
      <h1>{say("Workholding and toolholding")}</h1>
      <Workholding mayChange={useMe().role === "instructor"} />
    </main>
  );
}
