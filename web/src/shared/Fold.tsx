import { Collapse } from "antd";
import type { ReactNode } from "react";

/** Something that is folded away until it is wanted. */
export function Fold({ title, className, children }: { title: ReactNode; className?: string; children: ReactNode }) {
  return <Collapse size="small" {...(className ? { className } : {})} items={[{ key: "0", label: title, children }]} />;
}
