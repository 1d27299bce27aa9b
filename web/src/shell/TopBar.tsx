import { Button, Popover, Segmented, Tooltip } from "antd";
import { useContext, useEffect, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { Link, useLocation, useNavigate } from "react-router";
import type { Me } from "../api/client";
import { ShownUnit } from "../instruments/length";
import { toggleTheme } from "../look/theme";
import { clock } from "../shared/time";
import { Help } from "./Help";
import { leave } from "./leaving";
import { MyData } from "./MyData";
import { Password } from "./Password";
import { lettered, topBar } from "./routes";
import { Search } from "./Search";
import "./shell.css";
import { say } from "../shared/say";

/** Where you are, one search, the clock, who you are; every shortcut that holds everywhere. */
export function TopBar({ me, away, onSignedOut }: { me: Me; away: boolean; onSignedOut: () => void }) {
  const units = useContext(ShownUnit);
  const navigate = useNavigate();
  const places = topBar(me);
  const keys = lettered(me);
  const { pathname } = useLocation();
  const [help, setHelp] = useState(false);
  const [changing, setChanging] = useState(false);
  const [data, setData] = useState(false);

  // shortcuts rest in fields and while Ctrl, Alt or Meta is held
  useHotkeys(
    keys.map((p) => `g>${p.key}`),
    (_, pressed) => {
      const place = keys.find((p) => p.key === pressed.keys?.at(-1));
      if (place) void navigate(place.to);
    },
    { sequenceTimeoutMs: 1200, useKey: true },
    [keys, navigate],
  );
  useHotkeys("u", units.toggle, { useKey: true }, [units]);
  useHotkeys("shift+?", () => setHelp(true), { useKey: true });
  useHotkeys("/", () => document.getElementById("search")?.focus(), { useKey: true, preventDefault: true });

  const signOut = () => {
    leave(me.token);
    onSignedOut();
  };

  return (
    <header className="top no-print">
      <span className="top-mark">
        <svg width="30" height="20" viewBox="0 0 30 20" aria-hidden="true">
          <path d="M1 18H29M8 18 13 3H21" fill="none" stroke="currentColor" strokeWidth="2.4" />
        </svg>
        <span>
          <span aria-hidden="true">{say("INCUDO")}</span>
          <span className="top-shop">{me.shop}</span>
        </span>
      </span>
      <nav aria-label={say("Places")}>
        {places.map((p) => (
          <Link
            key={p.to}
            to={p.to}
            title={say("g then {key}", { key: p.key })}
            className={p.covers.some((c) => pathname === c || pathname.startsWith(`${c}/`)) ? "active" : ""}
          >
            {p.name}
          </Link>
        ))}
      </nav>
      <Search me={me} />
      {away && <span className="needs">{say("offline")}</span>}
      <Tooltip title={say("Switch units (u)")} mouseEnterDelay={0.6}>
        <Segmented
          size="small"
          aria-label={say("Shown in {unit}", { unit: units.unit })}
          value={units.unit}
          options={["in", "mm"]}
          onChange={units.toggle}
        />
      </Tooltip>
      <Link to="/report" className="top-report" aria-label={say("Report a fault or a near miss")}>
        <svg width="20" height="18" viewBox="0 0 18 17" aria-hidden="true">
          <path d="M9 1 17 16H1ZM9 6V11M9 13V14.5" fill="none" stroke="currentColor" strokeWidth="2" />
        </svg>
      </Link>
      <Clock />
      <Popover
        trigger="click"
        placement="bottomRight"
        content={
          <div className="stack top-me">
            <span className="muted small">
              {me.role}
              {me.group && `, ${me.group}`}
            </span>
            <Link className="button" to="/report">
              {say("Report a fault or a near miss")}
            </Link>
            <Button onClick={toggleTheme}>{say("Day or evening")}</Button>
            <Button onClick={() => setHelp(true)}>{say("Shortcuts")}</Button>
            <Button onClick={() => setChanging(true)}>{say("Change my password")}</Button>
            <Button onClick={() => setData(true)}>{say("What is kept about me")}</Button>
            <Button onClick={signOut}>{say("Sign out")}</Button>
          </div>
        }
      >
        <Button type="text" className="top-who">
          {me.name}
        </Button>
      </Popover>
      {changing && <Password onClose={() => setChanging(false)} />}
      {data && <MyData me={me} onClose={() => setData(false)} />}
      {help && <Help places={keys} onClose={() => setHelp(false)} />}
    </header>
  );
}

function Clock() {
  const [now, setNow] = useState(() => new Date().toISOString());
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date().toISOString()), 10_000);
    return () => clearInterval(timer);
  }, []);
  return <time className="top-clock">{clock(now)}</time>;
}
