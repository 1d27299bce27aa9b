import { Select } from "antd";
import { useMemo } from "react";
import { say } from "./say";
import { zones } from "./zone";

/** A time zone, searched by its name. */
export function ZoneSelect(p: { value: string; label: string; disabled?: boolean; onChange: (zone: string) => void }) {
  const options = useMemo(() => zones().map((z) => ({ value: z, label: z.replaceAll("_", " ") })), []);
  return (
    <Select
      showSearch={{ optionFilterProp: "label" }}
      aria-label={p.label}
      value={p.value}
      disabled={p.disabled ?? false}
      options={options}
      onChange={p.onChange}
      notFoundContent={say("No zone has this in its name: type a large city near the shop.")}
      className="zone"
    />
  );
}
