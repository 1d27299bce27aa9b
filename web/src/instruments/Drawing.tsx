import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { queries } from "../api/queries";

/**
 * The plate with the drawing scribed on it. Pointing at a dimension chooses its
 * characteristic; the chosen one is lit.
 */
export function Plate({
  version,
  svg,
  chosen,
  onChoose,
}: {
  version?: string;
  svg?: string;
  chosen?: number | null;
  onChoose?: (number: number) => void;
}) {
  const asked = useQuery({ ...queries.drawing(version ?? ""), enabled: version !== undefined && svg === undefined });
  const drawn = svg ?? asked.data?.svg ?? "";
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    for (const group of box.current?.querySelectorAll("[data-c]") ?? []) {
      group.classList.toggle("lit", group.getAttribute("data-c") === String(chosen));
    }
  }, [chosen, drawn]);
  const choose = (event: React.MouseEvent) => {
    const group = (event.target as Element).closest("[data-c]");
    if (group) onChoose?.(Number(group.getAttribute("data-c")));
  };
  return (
    <div className="plate" ref={box} onClick={choose}>
      {/* The drawing is made by our own server from checked numbers; its words are escaped there. */}
      <div className="plate-sheet" dangerouslySetInnerHTML={{ __html: drawn }} />
    </div>
  );
}
