import { useHotkeys } from "react-hotkeys-hook";
import { shortly } from "../../shared/time";
import type { InputRef } from "antd";
import { Button, Input, Select } from "antd";
import { useEffect, useRef, useState } from "react";
import type { Characteristic, Finding, JobCard, LengthUnit, Reading, Schema } from "../../api/client";
import type { Entry as Queued } from "../../offline/queue";
import { Keypad } from "../../instruments/Keypad";
import { Length, ReadValue, textIn, useUnit } from "../../instruments/length";
import { ToleranceBar, type Pointer } from "../../instruments/ToleranceBar";
import { LOOKS, TONES, VerdictMark, VerdictWord } from "../../instruments/verdict";
import { Working } from "../../instruments/Working";
import { useMe } from "../../shared/me";
import { sure } from "../../shared/sure";
import { instrumentFor } from "./choose";
import { say } from "../../shared/say";

export type Typed = { element: string; value: string; unit: Schema["Unit"]; instrument: string; supersedes?: string };
type Element = Schema["ElementView"];

type Props = {
  card: JobCard;
  characteristic: Characteristic;
  readings: readonly Reading[];
  finding: Finding;
  queued: Queued[];
  locked: string;
  onSave: (typed: Typed) => void;
  onNext: () => void;
};

/** The head of the measuring panel: number, name, and what the drawing asks. */
export function Asked({ c }: { c: Characteristic }) {
  return (
    <div className="between">
      <div className="row">
        <span className="balloon">{c.number}</span>
        <div>
          <h2>{c.name}</h2>
          <span className="small muted">{c.where}</span>
        </div>
      </div>
      <Drawn c={c} />
    </div>
  );
}

/** The nominal with its tolerance as the drawing gives it. */
export function Drawn({ c }: { c: Pick<Characteristic, "nominal" | "callout" | "tolerance"> }) {
  const unit = useUnit();
  const given = c.nominal.given === unit || c.nominal.given === "deg";
  if (c.callout) return <span className="drawn num">{c.callout}</span>;
  return (
    <span className="drawn num">
      <Length of={c.nominal} bare />
      {given && c.tolerance.length > 0 && (
        <span className="drawn-tolerance">
          {c.tolerance.map((line) => (
            <span key={line}>{line}</span>
          ))}
        </span>
      )}
    </span>
  );
}

/** Where a number is typed, with its verdict. Never judges by itself. */
export function Entry({ card, characteristic: c, readings, finding, queued, locked, onSave, onNext }: Props) {
  const me = useMe();
  const [typed, setTyped] = useState("");
  const [picked, setPicked] = useState<string | null>(null);
  const [typedUnit, setTypedUnit] = useState<LengthUnit | null>(null);
  const [correcting, setCorrecting] = useState<Reading | null>(null);
  const [showWorking, setShowWorking] = useState(false);
  const field = useRef<InputRef>(null);

  const [pickedElement, setPickedElement] = useState<string | null>(null);
  const element = c.elements.find((e) => e.key === pickedElement) ?? sure(firstMissing(c, readings));
  const ofElement = readings.filter((r) => r.element === element.key);

  const instrument = instrumentFor(card, element, ofElement, picked);
  const tool = card.instruments.find((i) => i.id === instrument);
  const unit = element.angle ? "deg" : (typedUnit ?? (tool && tool.unit !== "deg" ? tool.unit : card.unit));

  useHotkeys("w", () => setShowWorking((was) => !was), { useKey: true });
  useEffect(() => field.current?.focus({ preventScroll: true }), [c.number, locked]);

  const [wrong, setWrong] = useState("");

  const save = () => {
    if (!instrument || locked) return;
    if (!typed.trim()) {
      onNext();
      return;
    }
    if (!new RegExp(`^(?:${card.number_form})$`).test(typed.trim().replace("\u2212", "-"))) {
      setWrong(typed.trim());
      return;
    }
    send(typed.trim());
  };
  const send = (value: string) => {
    if (!instrument || locked) return;
    onSave({ element: element.key, value, unit, instrument, supersedes: correcting?.id });
    setTyped("");
    setCorrecting(null);
    setPickedElement(null);
  };
  const choose = (key: string) => {
    setPickedElement(key);
    setPicked(null);
    setCorrecting(null);
    field.current?.focus();
  };
  const key = (pressed: string) => setTyped((was) => (pressed === "⌫" ? was.slice(0, -1) : was + pressed));

  const current = readings.filter((r) => !r.superseded);
  const guard = me.school === "guard_band" ? (finding.bar?.sure ?? 0) : 0;
  const pointers: Pointer[] = current
    .filter((r) => !r.late && !r.undecided)
    .flatMap((r) => (r.bar ? [{ bar: r.bar, verdict: r.verdict, quiet: r.bar.off !== finding.bar?.off }] : []));
  if (pointers.length === 0 && finding.bar) pointers.push({ bar: finding.bar, verdict: finding.verdict });
  const fit = element.fits.find((f) => f.instrument === instrument)?.suitability;
  const isAsked = element.yes !== "";

  return (
    <div className="stack">
      <Asked c={c} />
      {c.elements.length > 1 && <Elements all={c.elements} readings={current} chosen={element.key} onChoose={choose} />}
      {isAsked && <YesNo element={element} locked={Boolean(locked) || !instrument} onAnswer={send} finding={finding} waiting={queued.length} />}
      {!isAsked && (
        <div className="entry-top">
          <label className={`entry-field ${correcting ? "correcting" : ""}`}>
            <span className="sr">{say("Reading for characteristic {number}, {name}", { number: c.number, name: c.name })}</span>
            <Input
              ref={field}
              id="reading"
              variant="borderless"
              inputMode="decimal"
              autoComplete="off"
              value={typed}
              maxLength={60}
              disabled={Boolean(locked)}
              placeholder={correcting?.value ? say("instead of {inch}", { inch: textIn(correcting.value, correcting.value.given) }) : say("reading")}
              status={wrong ? "error" : ""}
              aria-describedby={wrong ? "reading-wrong" : undefined}
              onChange={(e) => {
                setTyped(e.target.value);
                setWrong("");
              }}
              onKeyDown={(e) => {
                if (e.key === "Enter") save();
                if (e.key === "Escape") {
                  setTyped("");
                  setCorrecting(null);
                }
              }}
            />
            <Button
              type="text"
              className="plain entry-unit"
              title={say("Type in the other unit")}
              aria-label={say("typed in {unit}; switch", { unit })}
              disabled={element.angle}
              onClick={() => setTypedUnit(unit === "in" ? "mm" : "in")}
            >
              {element.angle ? "°" : unit}
            </Button>
          </label>
          {wrong && (
            <p className="error" id="reading-wrong" role="alert">
              {say("{wrong} is not a number. Type one such as 0.2485, with a point.", { wrong })}
            </p>
          )}
          <FindingBox finding={finding} waiting={queued.length} />
        </div>
      )}
      {!c.callout && <ToleranceBar characteristic={{ ...c, upper: finding.upper ?? c.upper }} pointers={pointers} guard={guard} />}
      <div className="row entry-tool">
        <label className="asked grow">
          {say("Measured with")}
          <Select
            showSearch={{ optionFilterProp: "label" }}
            value={instrument ?? ""}
            onChange={(picked) => setPicked(picked)}
            options={[
              ...card.instruments.map((i) => ({
                value: i.id,
                label: `${i.name} ${i.cannot_decide ? say(" (decides nothing today)") : ""}`,
              })),
            ]}
          />
        </label>
        <span className="small">
          {!isAsked && (
            <>
              {say("sure to ±")}
              <Length of={tool?.sure} />
              <br />
            </>
          )}
          <FitWord fit={fit} cannot={tool?.cannot_decide ?? ""} asked={isAsked} />
        </span>
        {!isAsked && (
          <Button disabled={Boolean(locked)} onClick={save} title={say("Enter")}>
            {typed.trim() ? say("Save reading") : say("Next")}
          </Button>
        )}
      </div>
      {locked && <p className="caution">{locked}</p>}
      {!isAsked && <Keypad onKey={key} onEnter={save} disabled={Boolean(locked)} signed={element.signed} />}
      {(readings.length > 0 || queued.length > 0) && (
        <ul className="taken">
          {readings.map((r) => (
            <li key={r.id} className={r.superseded ? "superseded" : ""}>
              <VerdictMark verdict={r.verdict} size={20} />
              <span className="num taken-value">
                <ReadValue of={r} />
              </span>
              <span className="small muted grow">
                {c.elements.length > 1 && `${wordsOf(c, r.element)}${r.value && r.against ? `, ${r.against}` : ""} · `}
                {r.instrument.name}, {shortly(r.measured_at)}
                {r.superseded ? " · superseded" : ""}
                {r.late ? say(" · late, not counted") : ""}
                {r.undecided ? say(" · decides nothing: {undecided}", { undecided: r.undecided }) : ""}
              </span>
              {!r.superseded && !locked && (
                <Button
                  type="text"
                  className="plain link"
                  onClick={() => {
                    setPickedElement(r.element);
                    setCorrecting(r);
                    field.current?.focus();
                  }}
                >
                  {say("Correct")}
                </Button>
              )}
            </li>
          ))}
          {queued.map((q) => (
            <QueuedLine key={q.order} entry={q} c={c} />
          ))}
        </ul>
      )}
      {finding.working.length > 0 && (
        <div>
          <Button type="text" className="plain link" title="w" onClick={() => setShowWorking(!showWorking)}>
            {showWorking ? say("Hide the working") : say("Show the working")}
          </Button>
          {showWorking && <Working steps={finding.working} />}
        </div>
      )}
    </div>
  );
}

/** The first thing that is still to be read, or the first of all. */
function firstMissing(c: Characteristic, readings: readonly Reading[]): Element | undefined {
  const there = new Set(readings.filter((r) => !r.superseded && !r.late && !r.undecided).map((r) => r.element));
  return c.elements.find((e) => !there.has(e.key)) ?? c.elements[0];
}

function wordsOf(c: Characteristic, key: string): string {
  return c.elements.find((e) => e.key === key)?.words ?? "";
}

/** What is read of one requirement, one thing after the other, each with what it showed. */
function Elements(p: { all: readonly Element[]; readings: readonly Reading[]; chosen: string; onChoose: (key: string) => void }) {
  return (
    <div className="entry-elements" role="group" aria-label={say("What is read here")}>
      {p.all.map((e) => {
        const last = p.readings.filter((r) => r.element === e.key).at(-1);
        return (
          <Button
            key={e.key}
            className="entry-element"
            aria-pressed={e.key === p.chosen}
            type={e.key === p.chosen ? "primary" : "default"}
            onClick={() => p.onChoose(e.key)}
          >
            <span>{e.words}</span>
            <span className="small num">
              {last ? (
                <ReadValue of={last} />
              ) : e.nominal ? (
                <>
                  {say("drawn")} {<Length of={e.nominal} bare />}
                </>
              ) : (
                say("not tried")
              )}
            </span>
          </Button>
        );
      })}
    </div>
  );
}

/** A question that a gauge or a specimen answers. */
function YesNo(p: { element: Element; locked: boolean; onAnswer: (value: string) => void; finding: Finding; waiting: number }) {
  return (
    <div className="entry-top">
      <div className="entry-answers">
        <b>{p.element.words}</b>
        <div className="row">
          <Button size="large" disabled={p.locked} onClick={() => p.onAnswer("yes")}>
            {p.element.yes}
          </Button>
          <Button size="large" disabled={p.locked} onClick={() => p.onAnswer("no")}>
            {p.element.no}
          </Button>
        </div>
      </div>
      <FindingBox finding={p.finding} waiting={p.waiting} asked />
    </div>
  );
}

function QueuedLine({ entry, c }: { entry: Queued; c: Characteristic }) {
  if (entry.kind !== "reading" && entry.kind !== "check-reading") return null;
  return (
    <li className="queued">
      <span className="needs">{entry.refused ? say("not taken") : say("waiting, not judged")}</span>
      <span className="num taken-value">
        {entry.body.value.slice(0, 20)} {entry.body.unit === "deg" ? "°" : entry.body.unit}
      </span>
      <span className="small grow">
        {entry.refused || (
          <>
            {say("limits")} <Length of={c.lower} bare /> {say("to")} <Length of={c.upper} />
          </>
        )}
      </span>
    </li>
  );
}

function FindingBox({ finding, waiting, asked = false }: { finding: Finding; waiting: number; asked?: boolean }) {
  const look = LOOKS[finding.verdict];
  if (waiting > 0) {
    return (
      <div className="finding" style={TONES.brass} role="status">
        <span>
          <b className="head">{say("Waiting, not judged")}</b>
          <span className="small">{say("The server has not got it yet. It is kept here and sent automatically.")}</span>
        </span>
      </div>
    );
  }
  return (
    <div className="finding" style={TONES[look.tone]} role="status" data-verdict={finding.verdict}>
      <VerdictMark verdict={finding.verdict} size={36} />
      <span>
        <b className="head">{look.word}</b>
        <span className="small">
          {finding.against}
          {finding.ask_again && <em>{finding.ask_again}</em>}
          {finding.verdict === "not_measured" && !finding.ask_again && (asked ? say("Touch the answer.") : say("Type the reading, then Enter."))}
        </span>
      </span>
    </div>
  );
}

const FITS = {
  ideal: say("a tenth of the width or better"),
  allowed: say("within a quarter of the width"),
  coarse: say("coarse for these limits"),
  useless: say("too coarse: nothing could be called in"),
  unfit: say("does not measure this"),
};

function FitWord({ fit, cannot, asked }: { fit?: keyof typeof FITS; cannot: string; asked: boolean }) {
  if (cannot) return <span className="is-brass">{cannot}</span>;
  if (!fit) return null;
  const fine = fit === "ideal" || fit === "allowed";
  if (asked && fine) return <span className="is-good">{say("is made for this")}</span>;
  return <span className={fine ? "is-good" : "is-brass"}>{FITS[fit]}</span>;
}

/** The last saved reading, so that the eye may stay on the next one. */
export function LastSaved({ number, name, reading }: { number: number; name: string; reading: Reading }) {
  return (
    <p className="last-saved" role="status">
      <span className="small muted">{say("saved")}</span>
      <span>
        {number} {name} <ReadValue of={reading} />
      </span>
      <VerdictWord verdict={reading.verdict} />
      <span className="small muted grow">{reading.against}</span>
    </p>
  );
}
