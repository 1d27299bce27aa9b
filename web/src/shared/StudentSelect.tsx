import { useQuery } from "@tanstack/react-query";
import { Select } from "antd";
import { useState } from "react";
import { queries } from "../api/queries";
import { say } from "./say";

/** One student among many: letters of the name are looked up on the server. Cleared it means everybody. */
export function StudentSelect({ value, onChange }: { value: string; onChange: (student: string) => void }) {
  const [find, setFind] = useState("");
  const [named, setNamed] = useState<{ value: string; label: string } | null>(null);
  const { data, isFetching } = useQuery({ ...queries.students(find.trim()), enabled: find.trim() !== "" });
  // after a reload only the id is in the address: the name is looked up with the student's skills
  const known = useQuery({ ...queries.skills(value), enabled: value !== "" && named?.value !== value });
  const label = named?.value === value ? named.label : known.data?.student.name;
  const found = (find.trim() ? (data?.students ?? []) : []).map((s) => ({
    value: s.student.id,
    label: s.group ? `${s.student.name}, ${s.group}` : s.student.name,
  }));
  return (
    <Select
      aria-label={say("Student")}
      className="student-select"
      allowClear
      showSearch={{ filterOption: false, onSearch: setFind }}
      placeholder={say("everybody; type letters of a name")}
      notFoundContent={find.trim() && !isFetching ? say("Nobody is called that.") : null}
      value={value ? { value, label: label ?? "…" } : null}
      labelInValue
      options={found}
      onChange={(picked: { value: string; label: React.ReactNode } | undefined) => {
        setFind("");
        const chosen = found.find((f) => f.value === picked?.value);
        setNamed(chosen ?? null);
        onChange(picked?.value ?? "");
      }}
    />
  );
}
