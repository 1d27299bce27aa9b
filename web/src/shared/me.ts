import { createContext, useContext } from "react";
import type { Me } from "../api/client";

export const MeContext = createContext<Me | null>(null);

/** Who is signed in; only used below the sign-in. */
export function useMe(): Me {
  const me = useContext(MeContext);
  if (!me) throw new Error("useMe above the sign-in");
  return me;
}
