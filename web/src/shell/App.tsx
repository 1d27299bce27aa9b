import { useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useEffect, useMemo, useState } from "react";
import { Navigate, Route, Routes } from "react-router";
import "../look/instruments.css";
import { Away, setToken, type LengthUnit, type Me } from "../api/client";
import { queries } from "../api/queries";
import { useReached } from "../api/reach";
import { ShownUnit } from "../instruments/length";
import { SignIn } from "../pages/people/SignIn";
import { MeContext } from "../shared/me";
import { Notice } from "./Notice";
import { TopBar } from "./TopBar";
import "../pages/session/start.css";

const Bench = lazy(() => import("../pages/jobcards/Bench"));
const JobCardPage = lazy(() => import("../pages/jobcards/JobCardPage"));
const FloorPage = lazy(() => import("../pages/session/FloorPage"));
const CheckPage = lazy(() => import("../pages/jobcards/CheckPage"));
const ProjectsPage = lazy(() => import("../pages/parts/ProjectsPage"));
const ProjectPage = lazy(() => import("../pages/parts/ProjectPage"));
const ClassPage = lazy(() => import("../pages/skills/ClassPage"));
const SkillsPage = lazy(() => import("../pages/skills/SkillsPage"));
const ShopPage = lazy(() => import("../pages/administration/ShopPage"));
const SessionPage = lazy(() => import("../pages/session/SessionPage"));
const StartPage = lazy(() => import("../pages/session/StartPage"));
const AssessPage = lazy(() => import("../pages/skills/AssessPage"));
const KnowledgePage = lazy(() => import("../pages/skills/KnowledgePage"));
const BanksPage = lazy(() => import("../pages/skills/BanksPage"));
const ReportPage = lazy(() => import("../pages/administration/ReportPage"));
const LadderPage = lazy(() => import("../pages/skills/LadderPage"));
const RigsPage = lazy(() => import("../pages/practice/RigsPage"));
const RigPage = lazy(() => import("../pages/practice/RigPage"));
const SetupBenchPage = lazy(() => import("../pages/setup/SetupBenchPage"));
const RecordPage = lazy(() => import("../pages/setup/RecordPage"));
const ReckonPage = lazy(() => import("../pages/reckoning/ReckonPage"));
const ExercisesPage = lazy(() => import("../pages/practice/ExercisesPage"));
const ExercisePage = lazy(() => import("../pages/practice/ExercisePage"));
const SheetPage = lazy(() => import("../pages/practice/SheetPage"));
const CribPage = lazy(() => import("../pages/shop/CribPage"));
const MovesPage = lazy(() => import("../pages/locating/MovesPage"));
const FindPage = lazy(() => import("../pages/locating/FindPage"));
const HoldingPage = lazy(() => import("../pages/setup/HoldingPage"));
const MachinePage = lazy(() => import("../pages/shop/MachinePage"));
const RecordsPage = lazy(() => import("../pages/administration/RecordsPage"));

/** The last person who signed in here: enough to show his page while the network is away. */
const KEPT = "incudo-me";

function keptMe(): Me | undefined {
  const kept = localStorage.getItem(KEPT);
  return kept ? (JSON.parse(kept) as Me) : undefined;
}

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
      navigator.serviceWorker?.controller?.postMessage("forget");
      setToken(next.token);
      client.removeQueries({ predicate: (q) => q.queryKey[0] !== "me" });
      client.setQueryData(queries.me().queryKey, next);
    },
    [client],
  );
  const signedOut = useCallback(() => {
    navigator.serviceWorker?.controller?.postMessage("forget");
    localStorage.removeItem(KEPT);
    client.removeQueries({ predicate: (q) => q.queryKey[0] !== "me" });
    void client.resetQueries({ queryKey: queries.me().queryKey });
  }, [client]);

  const [unit, setUnit] = useState<LengthUnit | null>(null);
  const shown = unit ?? me?.unit ?? "in";
  const units = useMemo(
    () => ({ unit: shown, toggle: () => setUnit(shown === "in" ? "mm" : "in") }),
    [shown],
  );

  if (asked.isPending && !me) return <main className="page muted">One moment…</main>;
  if (!me) return <SignIn onSignedIn={signedIn} />;
  const home = me.role === "student" ? "/bench" : "/floor";
  return (
    <MeContext value={me}>
      <ShownUnit value={units}>
        <TopBar me={me} away={away} onSignedOut={signedOut} />
        {me.role !== "auditor" && !me.notice_signed ? <Notice /> : <Suspense fallback={<main className="page muted">One moment…</main>}>
          <Routes>
            {me.role === "student" ? (
              <>
                <Route path="/bench" element={<Bench />} />
                <Route path="/knowledge/:bank" element={<KnowledgePage />} />
              </>
            ) : (
              <>
                <Route path="/floor" element={<FloorPage />} />
                <Route path="/session" element={<SessionPage />} />
                <Route path="/assess/:student" element={<AssessPage />} />
                <Route path="/questions/:bank?" element={<BanksPage />} />
                <Route path="/check/:handIn" element={<CheckPage />} />
                <Route path="/class" element={<ClassPage />} />
                <Route path="/shop" element={<ShopPage />} />
                <Route path="/records/:name?" element={<RecordsPage />} />
              </>
            )}
            <Route path="/job/:assignment" element={<JobCardPage />} />
            <Route path="/start/:machine" element={<StartPage />} />
            <Route path="/rigs" element={<RigsPage />} />
            <Route path="/rig/:run" element={<RigPage />} />
            <Route path="/reckon/:name?" element={<ReckonPage />} />
            <Route path="/exercises" element={<ExercisesPage />} />
            <Route path="/exercises/:calculation" element={<ExercisePage />} />
            <Route path="/sheet/:sheet" element={<SheetPage />} />
            <Route path="/crib/:place?" element={<CribPage />} />
            <Route path="/machines/:machine/moves" element={<MovesPage />} />
            <Route path="/job/:assignment/find" element={<FindPage />} />
            <Route path="/setup/:machine" element={<SetupBenchPage />} />
            <Route path="/setups/:setup" element={<RecordPage />} />
            <Route path="/hold/:assignment" element={<HoldingPage />} />
            <Route path="/machines/:machine" element={<MachinePage />} />
            <Route path="/report" element={<ReportPage />} />
            <Route path="/ladder" element={<LadderPage />} />
            <Route path="/parts" element={<ProjectsPage />} />
            <Route path="/parts/:project" element={<ProjectPage />} />
            <Route path="/skills/:student" element={<SkillsPage />} />
            <Route path="*" element={<Navigate to={home} replace />} />
          </Routes>
        </Suspense>}
      </ShownUnit>
    </MeContext>
  );
}
