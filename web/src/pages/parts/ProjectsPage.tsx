import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import { textIn } from "../../instruments/length";
import "./projects.css";
import { say, sayMany } from "../../shared/say";

/** The library of practice parts. */
export default function ProjectsPage() {
  const { data, error } = useQuery(queries.projects());
  return (
    <main className="page stack">
      <h1>{say("Parts")}</h1>
      {error && <p className="error">{error.message}</p>}
      <div className="parts">
        {data?.projects.map((p) => (
          <Link key={p.id} to={`/parts/${p.id}`} className="card part">
            <img src={`/api/versions/${p.version}/outline.svg`} alt="" width="240" height="140" />
            <div className="pad stack">
              <span className="between">
                <h2>{p.name}</h2>
                <span className="small muted">{say("version {version_number}", { version_number: p.version_number })}</span>
              </span>
              <p className="small">{p.about}</p>
              <p className="small muted">
                {say("{material} · {characteristics} characteristics", { material: p.material, characteristics: p.characteristics })}
                {p.tightest && (
                  <>
                    {" · "}
                    {say("tightest tolerance {width} {unit} wide", { width: textIn(p.tightest, p.tightest.given), unit: p.tightest.given })}
                  </>
                )}
                {" · "}
                {sayMany("given {count} time", "given {count} times", p.at_work)}
              </p>
              <p className="small">
                <span className="muted">{say("Needs ")}</span>
                {p.needs.join(", ") || say("nothing")}
              </p>
              {p.gives.length > 0 && (
                <p className="small">
                  <span className="muted">{say("Gives evidence for ")}</span>
                  {p.gives.join(", ")}
                </p>
              )}
            </div>
          </Link>
        ))}
      </div>
    </main>
  );
}
