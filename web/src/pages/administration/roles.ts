import type { Schema } from "../../api/client";
import { say } from "../../shared/say";

/** The roles as one says them, in the order in which a shop fills up. */
export const ROLES: readonly { role: Schema["Role"]; one: string; many: string; words: string }[] = [
  { role: "student", one: say("student"), many: say("Students"), words: say("Learns here: has job cards, practises, asks for starts.") },
  {
    role: "assistant",
    one: say("assistant"),
    many: say("Assistants"),
    words: say("Stands beside students, and signs the skills that are delegated."),
  },
  {
    role: "instructor",
    one: say("instructor"),
    many: say("Instructors"),
    words: say("Assigns, checks and signs, opens sessions, changes the shop. Only they themselves can change it again."),
  },
  { role: "auditor", one: say("auditor"), many: say("Auditors"), words: say("Reads the records and changes nothing.") },
];
