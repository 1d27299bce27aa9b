import { Breadcrumb } from "antd";
import { Suspense, useEffect } from "react";
import { Link, useParams } from "react-router";
import { Loading } from "../shared/Loading";
import { useMe } from "../shared/me";
import { trail, type Place } from "./routes";

/** One page of the route table: its title, the way back, and what shows while its script is on its way. */
export function Frame({ place }: { place: Place }) {
  const params = useParams();
  const way = trail(place, params, useMe());
  useEffect(() => {
    document.title = `${place.name} · Incudo`;
  }, [place.name]);
  const Page = place.page;
  return (
    <>
      {way.length > 1 && (
        <Breadcrumb
          className="trail no-print"
          items={way.map((w, i) => ({ title: i < way.length - 1 ? <Link to={w.to}>{w.name}</Link> : w.name }))}
        />
      )}
      <Suspense fallback={<Loading />}>
        <Page />
      </Suspense>
    </>
  );
}
