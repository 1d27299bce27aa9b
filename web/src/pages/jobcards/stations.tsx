import { Explained } from "../../shared/Explained";
import { when } from "../../shared/time";
import { Fold } from "../../shared/Fold";
import { Lines } from "../../shared/Lines";
import { Button } from "antd";
import type { JobCard, Schema } from "../../api/client";
import { Link } from "react-router";
import { Length } from "../../instruments/length";
import { Working } from "../../instruments/Working";
import { SetupStates } from "../setup/SetupStates";
import { DatumList } from "../locating/DatumList";
import { Steps } from "../skills/Steps";
import { HoldPoints, Operations } from "./Operations";
import { Rich, say } from "../../shared/say";

type Station = Schema["Station"];

type Text = { title: string; points: string[]; happens: string; so: string };

/** What each station asks, with the caution that belongs to it. */
const TEXTS: Partial<Record<Station, Text>> = {
  plan: {
    title: say("Plan the work"),
    points: [
      say("Find the datums on the drawing: everything is measured from them."),
      say("Mark the tightest characteristic; its order and its cutter come first."),
      say("Write down which face goes against the fixed jaw, and which cuts leave stock for a last pass."),
    ],
    happens: say("A part that was not thought through is clamped on a finished face or on nothing, and is thrown."),
    so: say("Ask before you start if you cannot say how it will be held in every cut."),
  },
  set_up: {
    title: say("Set up"),
    points: [
      say("Table and vise wiped, dings stoned; the vise aligned with an indicator and read again after tightening."),
      say("Part seated on its parallels; at least a third of its height in the jaws."),
      say("Collet and cutter clean, tightened, every wrench off the machine."),
    ],
    happens: say("A wrench left on the drawbar flies when the spindle starts."),
    so: say("Hands and eyes over the whole machine before you touch the switch: nothing loose, key out, guard in place."),
  },
  locate: {
    title: say("Locate the datums"),
    points: [
      say("Each edge found twice; the two must agree."),
      say("Half the finder's tip taken off, towards the right side."),
      say("Dials or readout set to zero, approached from the side you will cut from."),
    ],
    happens: say("An edge finder that is run too fast or left in throws its tip."),
    so: say("Keep to its speed band and take it out before the speed goes up."),
  },
  cut: {
    title: say("Cut"),
    points: [
      say("Set the depth clear of the work; lock the axes that do not move."),
      say("Feed against the cutter. Let the spindle stop before you reach in."),
      say("Measure before the last pass, and plan what is left from that reading."),
    ],
    happens: say("Chips are hot and sharp, and a brush near the turning cutter takes the hand with it."),
    so: say("Eye protection on. Stop the spindle, wait until it has stopped, then brush."),
  },
};

export function StationPanel({
  card,
  station,
  own,
  mayTick,
  busy,
  onTick,
}: {
  card: JobCard;
  station: Station;
  own: boolean;
  mayTick: boolean;
  busy: boolean;
  onTick: () => void;
}) {
  const text = TEXTS[station];
  if (!text) return null;
  return (
    <div className="stack">
      <h2>{text.title}</h2>
      {station === "plan" && <PlanFacts card={card} />}
      {(station === "plan" || station === "cut") && <ReckonedList card={card} />}
      {station === "set_up" && <Setups card={card} own={own} />}
      {(station === "locate" || station === "cut") && card.machine && <Datums card={card} first={station === "locate"} />}
      <ul className="points">
        {text.points.map((p) => (
          <li key={p}>
            <Explained text={p} />
          </li>
        ))}
      </ul>
      <p className="caution">
        <b>
          <Explained text={text.happens} />
        </b>{" "}
        <Explained text={text.so} /> <span className="muted">{say("The machine's manual and the shop's rules come first.")}</span>
      </p>
      {station === "cut" && card.machine && (
        <Link className="button first" to={`/job/${card.assignment}/run`}>
          {own ? say("Cut by the run card") : say("Look at the run card")}
        </Link>
      )}
      {station === "cut" && <Operations card={card} own={own} />}
      {station === "cut" && <HoldPoints card={card} own={own} />}
      {mayTick && (
        <Button type="primary" size="large" disabled={busy || (station === "cut" && card.holds.some((h) => !h.released))} onClick={onTick}>
          {say("Done: {title}", { title: text.title.toLowerCase() })}
        </Button>
      )}
    </div>
  );
}

/** How head, vise and holding stand for this job, with the way to each. */
function Setups({ card, own }: { card: JobCard; own: boolean }) {
  const machine = card.machine?.id;
  const go = own
    ? { head: say("Square the head"), vise: say("Align the vise"), hold: say("Hold the work") }
    : { head: say("Look"), vise: say("Look"), hold: say("Look") };
  const way = (s: Schema["SetupState"]) => {
    if (s.kind === "hold") return { href: `/hold/${card.assignment}`, words: s.state === "stands" ? say("Look") : go.hold };
    if (s.state === "stands" && s.setup) return { href: `/setups/${s.setup}`, words: say("Look") };
    return machine ? { href: `/setup/${machine}?card=${card.assignment}&what=${s.kind}`, words: go[s.kind] } : null;
  };
  return <SetupStates states={card.setups} to={way} />;
}

/** The datums of this part, with the way to find them and to every dial reading that follows. */
function Datums({ card, first }: { card: JobCard; first: boolean }) {
  const all = card.datums.length > 0 && card.datums.every((d) => d.stands);
  return (
    <div className="stack">
      {card.datums.length > 0 && <DatumList datums={card.datums} missing={[]} />}
      <Link className={`button ${first && !all ? "first" : ""}`} to={`/job/${card.assignment}/find`}>
        {all ? say("Dial readings of this part") : say("Find the part under the spindle")}
      </Link>
    </div>
  );
}

/** What was reckoned for this job, each with its working, and the way to reckon more. */
function ReckonedList({ card }: { card: JobCard }) {
  return (
    <div className="stack" data-reckoned={card.reckoned.length}>
      {card.reckoned.map((r) => (
        <Fold
          title={
            <>
              <span className="grow">
                {r.name}
                {r.note && <span className="small muted"> {r.note}</span>}
              </span>
              <b>{answerOf(r)}</b>
            </>
          }
          key={r.id}
          className="reckoned"
        >
          <p className="small muted">{say("{listed}. By {by}, {at}.", { listed: r.given.join("; "), by: r.by, at: when(r.at) })}</p>
          <Working steps={r.working} />
        </Fold>
      ))}
      <Link className="button" to={`/reckon/spindle-speed?job=${card.assignment}`}>
        {card.reckoned.length > 0 ? say("Calculate more for this job") : say("Calculate speed, feed and passes for this job")}
      </Link>
    </div>
  );
}

function answerOf(r: JobCard["reckoned"][number]): string {
  const first = r.results[0];
  if (!first) return "";
  return first.word || first.values.map((v) => `${v.value} ${v.unit}`.trim()).join(" = ");
}

function PlanFacts({ card }: { card: JobCard }) {
  return (
    <>
      <Link className="button first big" to={`/job/${card.assignment}/plan`}>
        {say("Build the plan")}
      </Link>
      <PlanTable card={card} />
    </>
  );
}

function PlanTable({ card }: { card: JobCard }) {
  return (
    <Lines
      rows={[{ number: 0, is: null }, ...card.characteristics.map((c) => ({ number: c.number, is: c }))]}
      rowKey={(x) => x.number}
      showHeader={false}
      columns={[
        { key: "number", className: "muted", render: (_, x) => x.number || say("From") },
        {
          key: "what",
          render: (_, { is: c }) =>
            c ? (
              <>
                {c.name}: {c.aim ? say("aim ") : say("stay under ")}
                <Length of={c.aim ?? c.upper ?? c.lower} />
                {say(", between")} <Length of={c.lower} bare /> {say("and")} <Length of={c.upper} />
              </>
            ) : (
              `${card.stock}, ${card.material}`
            ),
        },
      ]}
    />
  );
}

export function ReadyPanel({ card, own }: { card: JobCard; own: boolean }) {
  if (card.missing.length === 0) {
    return (
      <div className="stack">
        <h2>{say("Ready")}</h2>
        <p>{say("{name} every skill that this part needs.", { name: own ? say("You have") : say("{name} has", { name: card.student.name }) })}</p>
        <p className="caution">
          <Rich
            text={
              "<b>Loose cloth and hair are pulled in faster than anybody can let go.</b> Sleeves above the elbow, hair tied, no gloves, no jewellery, eye protection on, before you come to the machine."
            }
            with={{ b: <b /> }}
          />
        </p>
      </div>
    );
  }
  return (
    <div className="stack">
      <h2>{say("Sign-offs first")}</h2>
      <p>
        {own
          ? say("You can read everything here. Work starts when these are signed:")
          : say("They can read everything here. Work starts when these are signed:")}
      </p>
      <ul className="missing">
        {card.missing.map((m) => (
          <li key={m.skill}>
            <b className="head">{m.name}</b>
            <span>{m.reason}</span>
          </li>
        ))}
      </ul>
      {card.steps.length > 0 && (
        <>
          <h3>{say("What can be done now")}</h3>
          <Steps steps={card.steps} own={own} />
        </>
      )}
    </div>
  );
}

export function SignPanel({ card }: { card: JobCard }) {
  const last = card.decisions[0];
  return (
    <div className="stack">
      <h2>{say("Sign")}</h2>
      {card.handed_in_at && (
        <p className="caution">
          <Rich
            text={"<b>Handed in {handed_in_at}.</b> Your instructor measures it now without seeing your readings; then both stand side by side."}
            values={{ handed_in_at: when(card.handed_in_at) }}
            with={{ b: <b /> }}
          />
        </p>
      )}
      {!card.handed_in_at && !last && (
        <p className="muted">{say("Nothing is handed in yet. Measure every characteristic, then hand the part in.")}</p>
      )}
      {card.decisions.map((d) => (
        <DecisionBox key={d.at} decision={d} />
      ))}
    </div>
  );
}

const OUTCOMES = { accepted: say("Accepted"), rework: say("To be reworked"), scrapped: say("Scrapped: a new piece of stock") };

export function DecisionBox({ decision: d }: { decision: Schema["DecisionView"] }) {
  return (
    <div className={`decision decision-${d.outcome}`}>
      <b className="head">{OUTCOMES[d.outcome]}</b>{" "}
      <span className="small muted">
        {d.by}, {when(d.at)}
      </span>
      {d.remark && <p className="said">“{d.remark}”</p>}
      {d.findings.map((f) => (
        <p key={f.characteristic} className="small">
          {f.characteristic} {f.name}: {f.disposition}
          {f.reason && `, ${f.reason}`}
        </p>
      ))}
    </div>
  );
}
