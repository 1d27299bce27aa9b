import { useMemo, useState } from "react";
import { Navigate, Route, Routes } from "react-router";
import "../look/instruments.css";
import type { LengthUnit, Me } from "../api/client";
import { ShownUnit } from "../instruments/length";
import { MeContext } from "../shared/me";
import { Broken } from "./Broken";
import { Frame } from "./Frame";
import { Notice } from "./Notice";
import { homeOf, placesOf } from "./routes";
import { TopBar } from "./TopBar";
import "../shared/start.css";

/** Everything behind the sign-in. */
export default function Inside({ me, away, onSignedOut }: { me: Me; away: boolean; onSignedOut: () => void }) {
  const [unit, setUnit] = useState<LengthUnit | null>(null);
  const shown = unit ?? me.unit;
  const units = useMemo(() => ({ unit: shown, toggle: () => setUnit(shown === "in" ? "mm" : "in") }), [shown]);
  return (
    <MeContext value={me}>
      <ShownUnit value={units}>
        <TopBar me={me} away={away} onSignedOut={onSignedOut} />
        <Broken>
          {me.role !== "auditor" && !me.notice_signed ? (
            <Notice />
          ) : (
            <Routes>
              {placesOf(me).map((p) => (
                <Route key={p.path} path={p.path} element={<Frame place={p} />} />
              ))}
              <Route path="*" element={<Navigate to={homeOf(me)} replace />} />
            </Routes>
          )}
        </Broken>
      </ShownUnit>
    </MeContext>
  );
}
