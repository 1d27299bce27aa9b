import { sure } from "../shared/sure";
import { useEffect, useState } from "react";

/** A place and a reading. */
export type Frame = readonly number[];

const still = () => window.matchMedia("(prefers-reduced-motion: reduce)").matches;

/**
 * Plays the frames that the server computed for an action, each a place and a reading;
 * null when they are over. Whoever asked for less motion sees the end at once.
 */
export function useMotion(frames: readonly Frame[]): Frame | null {
  const [at, setAt] = useState<{ of: readonly Frame[]; frame: Frame | null }>({ of: [], frame: null });
  useEffect(() => {
    if (frames.length < 2 || still()) return;
    const long = Math.min(900, frames.length * 26);
    const begun = performance.now();
    const draw = (now: number) => {
      const place = Math.max(0, Math.min((now - begun) / long, 1)) * (frames.length - 1);
      const i = Math.min(Math.floor(place), frames.length - 2);
      const [a, b] = [sure(frames[i]), sure(frames[i + 1])];
      const over = place >= frames.length - 1;
      setAt({ of: frames, frame: over ? null : a.map((v, j) => v + (sure(b[j]) - v) * (place - i)) });
      if (!over) asked = requestAnimationFrame(draw);
    };
    let asked = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(asked);
  }, [frames]);
  if (at.of === frames) return at.frame;
  // until the first frame is drawn, nothing jumps ahead
  return frames.length > 1 && !still() ? sure(frames[0]) : null;
}
