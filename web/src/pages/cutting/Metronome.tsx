import { Switch } from "antd";
import { useEffect, useRef, useState } from "react";
import { say } from "../../shared/say";

/** Feeding by hand: one beat is one turn of the handle, to be seen, and to be heard if one likes. */
export function Metronome({ seconds }: { seconds: number }) {
  const [sounds, setSounds] = useState(false);
  const [beat, setBeat] = useState(0);
  const speaker = useRef<AudioContext | null>(null);
  useEffect(() => {
    const timer = setInterval(() => setBeat((n) => n + 1), seconds * 1000);
    return () => clearInterval(timer);
  }, [seconds]);
  useEffect(() => {
    if (!sounds || beat === 0) return;
    speaker.current ??= new AudioContext();
    const tone = speaker.current.createOscillator();
    const loud = speaker.current.createGain();
    loud.gain.value = 0.2;
    tone.frequency.value = 880;
    tone.connect(loud).connect(speaker.current.destination);
    tone.start();
    tone.stop(speaker.current.currentTime + 0.06);
  }, [beat, sounds]);
  return (
    <div className="row wraps run-beat">
      <svg viewBox="-30 -30 60 60" className="run-handle" role="img" aria-label={say("one turn of the handle in {seconds} s", { seconds })}>
        <circle r="26" />
        <g style={{ animationDuration: `${seconds}s` }}>
          <circle r="6" cy="-19" />
        </g>
      </svg>
      <b>{say("one turn in {seconds} s", { seconds })}</b>
      <label className="row">
        <Switch checked={sounds} onChange={setSounds} /> {say("Click at each turn")}
      </label>
    </div>
  );
}
