import { Collapse } from "antd";
import type { ReactNode } from "react";

/** Something that is folded away until it is wanted. */
export function Fold(p: { title: ReactNode; className?: string; open?: boolean; children: ReactNode }) {
  const { title, className, open = false, children } = p;
  return (
    <Collapse
      size="small"
      defaultActiveKey={open ? ["0"] : []}
      {...(className ? { className } : {})}
      items={[{ key: "0", label: title, children }]}
    />
  );
}
