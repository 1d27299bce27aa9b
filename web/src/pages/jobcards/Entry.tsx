import { useHotkeys } from "react-hotkeys-hook";
import { shortly } from "../../shared/time";
import type { InputRef } from "antd";
import { Button, Input, Select } from "antd";
import { useEffect, useRef, useState } from "react";
import type { Characteristic, Finding, JobCard, LengthUnit, Reading } from "../../api/client";
import type { Entry as Queued } from "../../offline/queue";
import { Keypad } from "../../instruments/Keypad";
import { Length, useUnit } from "../../instruments/length";
import { ToleranceBar, type Pointer } from "../../instruments/ToleranceBar";
import { LOOKS, TONES, VerdictMark, VerdictWord } from "../../instruments/verdict";
import { Working } from "../../instruments/Working";
import { useMe } from "../../shared/me";
import { instrumentFor } from "./choose";
import { say } from "../../shared/say";

export type Typed = { value: string; unit: LengthUnit; instrument: string; supersedes?: string };

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
export function Drawn({ c }: { c: Pick<Characteristic, "nominal" | "tolerance" | "lower" | "upper"> }) {
  const unit = useUnit();
  const given = c.nominal.given === unit;
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

/** Where a number is typed and what comes of it. Never judges by itself. */
export function Entry({ card, characteristic: c, readings, finding, queued, locked, onSave, onNext }: Props) {
  const me = useMe();
  const [typed, setTyped] = useState("");
  const [picked, setPicked] = useState<string | null>(null);
  const [typedUnit, setTypedUnit] = useState<LengthUnit | null>(null);
  const [correcting, setCorrecting] = useState<Reading | null>(null);
  const [showWorking, setShowWorking] = useState(false);
  const field = useRef<InputRef>(null);

  const instrument = instrumentFor(card, c, readings, picked);
  const tool = card.instruments.find((i) => i.id === instrument);
  const unit = typedUnit ?? tool?.unit ?? card.unit;

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
    onSave({ value: typed.trim(), unit, instrument, supersedes: correcting?.id });
    setTyped("");
    setCorrecting(null);
  };
  const key = (pressed: string) => setTyped((was) => (pressed === "⌫" ? was.slice(0, -1) : was + pressed));

  const current = readings.filter((r) => !r.superseded);
  const guard = me.school === "guard_band" ? (finding.bar?.sure ?? 0) : 0;
  const pointers: Pointer[] = current
    .filter((r) => !r.late && !r.undecided)
    .map((r) => ({ bar: r.bar, verdict: r.verdict, quiet: r.bar.off !== finding.bar?.off }));
  const fit = c.fits.find((f) => f.instrument === instrument)?.suitability;

  return (
    <div className="stack">
      <Asked c={c} />
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
            placeholder={
              correcting
                ? say("instead of {inch}", { inch: correcting.value.given === "in" ? correcting.value.inch : correcting.value.mm })
                : say("reading")
            }
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
            onClick={() => setTypedUnit(unit === "in" ? "mm" : "in")}
          >
            {unit}
          </Button>
        </label>
        {wrong && (
          <p className="error" id="reading-wrong" role="alert">
            {say("{wrong} is not a number. Type one such as 0.2485, with a point.", { wrong })}
          </p>
        )}
        <FindingBox finding={finding} waiting={queued.length} />
      </div>
      <ToleranceBar characteristic={c} pointers={pointers} guard={guard} />
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
          {say("sure to ±")}
          <Length of={tool?.sure} />
          <br />
          <FitWord fit={fit} cannot={tool?.cannot_decide ?? ""} />
        </span>
        <Button disabled={Boolean(locked)} onClick={save} title={say("Enter")}>
          {typed.trim() ? say("Save reading") : say("Next")}
        </Button>
      </div>
      {locked && <p className="caution">{locked}</p>}
      <Keypad onKey={key} onEnter={save} disabled={Boolean(locked)} />
      {(readings.length > 0 || queued.length > 0) && (
        <ul className="taken">
          {readings.map((r) => (
            <li key={r.id} className={r.superseded ? "superseded" : ""}>
              <VerdictMark verdict={r.verdict} size={20} />
              <span className="num taken-value">
                <Length of={r.value} />
              </span>
              <span className="small muted grow">
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

function QueuedLine({ entry, c }: { entry: Queued; c: Characteristic }) {
  if (entry.kind !== "reading" && entry.kind !== "check-reading") return null;
  return (
    <li className="queued">
      <span className="needs">{entry.refused ? say("not taken") : say("waiting, not judged")}</span>
      <span className="num taken-value">
        {entry.body.value.slice(0, 20)} {entry.body.unit}
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

function FindingBox({ finding, waiting }: { finding: Finding; waiting: number }) {
  const look = LOOKS[finding.verdict];
  if (waiting > 0) {
    return (
      <div className="finding" style={TONES.brass} role="status">
        <span>
          <b className="head">{say("Waiting, not judged")}</b>
          <span className="small">{say("The server has not got it yet. It is kept here and sent by itself.")}</span>
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
          {finding.verdict === "not_measured" && !finding.ask_again && say("Type the reading, then Enter.")}
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

function FitWord({ fit, cannot }: { fit?: keyof typeof FITS; cannot: string }) {
  if (cannot) return <span className="is-brass">{cannot}</span>;
  if (!fit) return null;
  const fine = fit === "ideal" || fit === "allowed";
  return <span className={fine ? "is-good" : "is-brass"}>{FITS[fit]}</span>;
}

/** The last saved reading, so that the eye may stay on the next one. */
export function LastSaved({ number, name, reading }: { number: number; name: string; reading: Reading }) {
  return (
    <p className="last-saved" role="status">
      <span className="small muted">{say("saved")}</span>
      <span>
        {number} {name} <Length of={reading.value} />
      </span>
      <VerdictWord verdict={reading.verdict} />
      <span className="small muted grow">{reading.against}</span>
    </p>
  );
}
