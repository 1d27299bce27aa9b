import { Button } from "antd";
import { useEffect, useState } from "react";
import { NavLink, useNavigate } from "react-router";
import { api, type Me } from "../api/client";
import { ShownUnit } from "../instruments/length";
import { useContext } from "react";
import { Search } from "./Search";
import { Help } from "./Help";
import { Password } from "./Password";
import "./shell.css";

type Place = { to: string; name: string; key: string };

export function placesFor(me: Me): Place[] {
  if (me.role === "student") {
    return [
      { to: "/bench", name: "Bench", key: "b" },
      { to: "/parts", name: "Parts", key: "p" },
      { to: `/skills/${me.id}`, name: "My skills", key: "k" },
      { to: "/ladder", name: "Ladder", key: "l" },
      { to: "/rigs", name: "Rigs", key: "i" },
      { to: "/reckon", name: "Reckon", key: "n" },
      { to: "/crib", name: "Crib", key: "x" },
      { to: "/report", name: "Report", key: "o" },
    ];
  }
  const places = [
    { to: "/floor", name: "Floor", key: "f" },
    { to: "/session", name: "Session", key: "e" },
    { to: "/class", name: "Class", key: "c" },
    { to: "/parts", name: "Parts", key: "p" },
    { to: "/rigs", name: "Rigs", key: "i" },
    { to: "/reckon", name: "Reckon", key: "n" },
    { to: "/crib", name: "Crib", key: "x" },
    { to: "/shop", name: "Shop", key: "s" },
    { to: "/report", name: "Report", key: "o" },
  ];
  return me.role === "assistant" ? places : [...places, { to: "/records", name: "Records", key: "r" }];
}

function inField(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));
}

export function TopBar({ me, away, onSignedOut }: { me: Me; away: boolean; onSignedOut: () => void }) {
  const units = useContext(ShownUnit);
  const navigate = useNavigate();
  const places = placesFor(me);
  const [help, setHelp] = useState(false);
  const [changing, setChanging] = useState(false);

  useEffect(() => {
    let going = 0;
    const press = (event: KeyboardEvent) => {
      if (inField(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (Date.now() - going < 1200) {
        const place = placesFor(me).find((p) => p.key === event.key);
        going = 0;
        if (place) return navigate(place.to);
      }
      if (event.key === "g") going = Date.now();
      else if (event.key === "u") units.toggle();
      else if (event.key === "?") setHelp(true);
      else if (event.key === "/") {
        event.preventDefault();
        document.getElementById("search")?.focus();
      }
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [me, navigate, units]);

  const signOut = async () => {
    await api.POST("/api/sign-out");
    onSignedOut();
  };

  return (
    <header className="top no-print">
      <span className="top-mark">
        <svg width="30" height="20" viewBox="0 0 30 20" aria-hidden="true">
          <path d="M1 18H29M8 18 13 3H21" fill="none" stroke="currentColor" strokeWidth="2.4" />
        </svg>
        <span>
          <span aria-hidden="true">INCUDO</span>
          <span className="top-shop">{me.shop}</span>
        </span>
      </span>
      <nav aria-label="Places">
        {places.map((p) => (
          <NavLink key={p.to} to={p.to} title={`g then ${p.key}`}>
            {p.name}
          </NavLink>
        ))}
      </nav>
      <Search me={me} />
      {away && <span className="needs">network away</span>}
      <button className="top-units" onClick={units.toggle} title="Switch units (u)" aria-label={`Shown in ${units.unit}; switch units`}>
        <span className={units.unit === "in" ? "on" : ""}>in</span>
        <span className={units.unit === "mm" ? "on" : ""}>mm</span>
      </button>
      <Clock />
      <details className="top-me">
        <summary>{me.name}</summary>
        <div className="card pad stack">
          <span className="muted small">
            {me.role}
            {me.group && `, ${me.group}`}
          </span>
          <Button  onClick={toggleTheme}>
            Day or evening
          </Button>
          <Button  onClick={() => setHelp(true)}>
            Shortcuts
          </Button>
          <Button  onClick={() => setChanging(true)}>
            Change my password
          </Button>
          <Button  onClick={() => void signOut()}>
            Sign out
          </Button>
        </div>
      </details>
      {changing && <Password onClose={() => setChanging(false)} />}
      {help && <Help places={places} onClose={() => setHelp(false)} />}
    </header>
  );
}

const THEME = "incudo-theme";
export function applyTheme(): void {
  document.documentElement.dataset.theme = localStorage.getItem(THEME) ?? "day";
}
function toggleTheme(): void {
  localStorage.setItem(THEME, localStorage.getItem(THEME) === "evening" ? "day" : "evening");
  applyTheme();
}
applyTheme();

function Clock() {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), 10_000);
    return () => clearInterval(timer);
  }, []);
  return <time className="top-clock">{now.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}</time>;
}
