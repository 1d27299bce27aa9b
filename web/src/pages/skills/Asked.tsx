import { Input } from "antd";
import type { Schema } from "../../api/client";
import { Sketch } from "../../instruments/Sketch";
import { say } from "../../shared/say";

type Question = Schema["QuestionView"];
export type Given = { places: readonly number[]; number: string };
export const NONE: Given = { places: [], number: "" };

type Props = {
  question: Question;
  given: Given;
  /** The right places once it is answered, else null. */
  right: readonly number[] | null;
  onGive: (given: Given) => void;
};

/** A question of any kind: to choose among words or drawings, to put in order, to point at, to spot, a number. */
export function Asked(props: Props) {
  const { question: q } = props;
  return (
    <div className="stack">
      <h2>{q.text}</h2>
      {q.critical && <p className="small muted">{say("A critical question: it must be right.")}</p>}
      {(q.kind === "choose" || q.kind === "term") && <Choose {...props} />}
      {q.kind === "judge" && <Judge {...props} />}
      {q.kind === "order" && <Order {...props} />}
      {(q.kind === "point" || q.kind === "spot") && <Picture {...props} />}
      {q.kind === "number" && <Number {...props} />}
    </div>
  );
}

function toggled(q: Question, given: Given, place: number): Given {
  if (!q.several) return { ...given, places: [place] };
  const has = given.places.includes(place);
  return { ...given, places: has ? given.places.filter((p) => p !== place) : [...given.places, place] };
}

function look(place: number, given: Given, right: readonly number[] | null): string {
  const chosen = given.places.includes(place);
  if (!right) return chosen ? "chosen" : "";
  if (right.includes(place)) return "right";
  return chosen ? "wrong" : "";
}

function Choose({ question: q, given, right, onGive }: Props) {
  return (
    <div className="choose">
      {q.several && <p className="small muted">{say("More than one may be right.")}</p>}
      {q.options.map((option, place) => (
        <button
          key={option}
          type="button"
          className={`choice ${look(place, given, right)}`}
          aria-pressed={given.places.includes(place)}
          disabled={right !== null}
          onClick={() => onGive(toggled(q, given, place))}
        >
          <svg width="22" height="22" viewBox="0 0 24 24" aria-hidden="true">
            {q.several ? (
              <rect x="4" y="4" width="16" height="16" fill="none" stroke="currentColor" strokeWidth="2" />
            ) : (
              <circle cx="12" cy="12" r="9" fill="none" stroke="currentColor" strokeWidth="2" />
            )}
            {given.places.includes(place) && <path d="M7 12 11 16 18 7" fill="none" stroke="currentColor" strokeWidth="2.6" />}
          </svg>
          {option}
        </button>
      ))}
    </div>
  );
}

/** Drawn options: what each shows is said under it once it is answered, and to who does not see it. */
function Judge({ question: q, given, right, onGive }: Props) {
  return (
    <div className="stack">
      <p className="small muted">{q.several ? say("Touch every one that you would accept.") : say("Touch one.")}</p>
      <div className="judged">
        {q.drawn.map((drawn, place) => (
          <button
            key={place}
            type="button"
            className={`choice ${look(place, given, right)}`}
            aria-pressed={given.places.includes(place)}
            aria-label={drawn.words}
            disabled={right !== null}
            onClick={() => onGive(toggled(q, given, place))}
          >
            <Sketch of={drawn} wide={320} high={210} />
            {right && <span className="small">{drawn.words}</span>}
          </button>
        ))}
      </div>
    </div>
  );
}

/** Touch the steps in their order; touching a numbered one takes it and what follows out again. */
function Order({ question: q, given, right, onGive }: Props) {
  const touch = (place: number) => {
    const at = given.places.indexOf(place);
    onGive({ ...given, places: at >= 0 ? given.places.slice(0, at) : [...given.places, place] });
  };
  return (
    <div className="choose">
      <p className="small muted">{say("Touch the steps in the order in which they are done.")}</p>
      {q.options.map((option, place) => {
        const at = given.places.indexOf(place);
        const should = right?.indexOf(place) ?? -1;
        const mark = right ? (at === should ? "right" : "wrong") : at >= 0 ? "chosen" : "";
        return (
          <button key={option} type="button" className={`choice ${mark}`} disabled={right !== null} onClick={() => touch(place)}>
            <span className="order-number">{at >= 0 ? at + 1 : "·"}</span>
            <span className="grow">{option}</span>
            {right && <span className="small">{say("step {should}", { should: should + 1 })}</span>}
          </button>
        );
      })}
    </div>
  );
}

function Picture({ question: q, given, right, onGive }: Props) {
  return (
    <div className="plate">
      <svg className="asked-picture" viewBox={`0 0 ${q.width} ${q.height}`} role="group" aria-label={say("Drawing to touch")}>
        {q.lines.map((line, i) => (
          <path key={i} className="drawn" d={line} />
        ))}
        {q.areas.map((area, place) => (
          <path
            key={place}
            d={area}
            className={`area ${look(place, given, right)}`}
            role="button"
            tabIndex={right ? -1 : 0}
            aria-pressed={given.places.includes(place)}
            aria-label={say("place {place}", { place: place + 1 })}
            onClick={() => right === null && onGive(toggled(q, given, place))}
            onKeyDown={(e) => {
              if (right !== null || (e.key !== "Enter" && e.key !== " ")) return;
              e.preventDefault();
              onGive(toggled(q, given, place));
            }}
          />
        ))}
      </svg>
    </div>
  );
}

function Number({ question: q, given, right, onGive }: Props) {
  return (
    <label className="asked row number-asked">
      <Input
        inputMode="decimal"
        autoFocus
        maxLength={12}
        disabled={right !== null}
        value={given.number}
        onChange={(e) => onGive({ places: [], number: e.target.value })}
        aria-label={say("Your answer")}
      />
      <b>{q.unit}</b>
    </label>
  );
}
