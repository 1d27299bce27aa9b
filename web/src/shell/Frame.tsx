import { Breadcrumb } from "antd";
import { Suspense, useEffect } from "react";
import { Link, NavigationType, NavLink, useLocation, useNavigationType, useParams } from "react-router";
import { Loading } from "../shared/Loading";
import { useMe } from "../shared/me";
import { shelfOf, trail, type Place } from "./routes";
import { say } from "../shared/say";

/** One page of the route table: its title, the way back, and what shows while its script is on its way. */
export function Frame({ place }: { place: Place }) {
  const params = useParams();
  const me = useMe();
  const way = trail(place, params, me);
  const shelf = shelfOf(place, me);
  useEffect(() => {
    document.title = `${place.name} · Incudo`;
  }, [place.name]);
  // a page that is opened begins at its top; the way back leads to where one was
  const { pathname } = useLocation();
  const opened = useNavigationType() === NavigationType.Push;
  useEffect(() => {
    if (opened) window.scrollTo(0, 0);
  }, [pathname, opened]);
  const Page = place.page;
  return (
    <>
      {way.length > 1 && (
        <Breadcrumb
          className="trail no-print"
          items={way.map((w, i) => ({ title: i < way.length - 1 ? <Link to={w.to}>{w.name}</Link> : w.name }))}
        />
      )}
      {shelf.length > 0 && (
        <nav className="shelf no-print" aria-label={say("Pages that belong with this one")}>
          {shelf.map((p) => (
            <NavLink key={p.to} to={p.to} end={p.to === "/shop"}>
              {p.name}
            </NavLink>
          ))}
        </nav>
      )}
      <Suspense fallback={<Loading />}>
        <Page />
      </Suspense>
    </>
  );
}
