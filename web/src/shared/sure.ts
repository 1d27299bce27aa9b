import { say } from "./say";
/** A value that is there: what is missing against expectation is an error that names itself, not a silent hole. */
export function sure<T>(value: T | null | undefined, what = say("a value that was expected")): T {
  if (value === null || value === undefined) throw new Error(`${what} is missing`);
  return value;
}
