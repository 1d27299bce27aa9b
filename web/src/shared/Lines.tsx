import { Input, Table, type TableProps } from "antd";
import { isValidElement, useEffect, useRef, useState, type ReactNode } from "react";
import { say } from "./say";

/** From so many lines on a table is paged, and from so many it can be searched and sorted. */
const PAGE = 50;
const LONG = 20;

/**
 * Lines under a head: the table of this application, on Ant Design's.
 * A line without a key of its own is known by its place. Long ones are paged, and can be searched by any word in them and sorted by any column; ``searched``: the page asks
 * the server for what is looked for.
 */
export function Lines<T extends object>({
  rows,
  columns,
  searched = false,
  ...more
}: { rows: readonly T[]; searched?: boolean } & Omit<TableProps<T>, "dataSource">) {
  const [wanted, setWanted] = useState("");
  const long = rows.length > LONG;
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const kept = words.length ? rows.filter((r) => words.every((w) => textOf(Object.values(r)).toLowerCase().includes(w))) : rows;
  const sorted = columns?.map((c) => ("children" in c || c.sorter || !long || !c.title ? c : { ...c, sorter: byText(c) }));
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // what is wider than the page is moved by the keys as well, also after a tablet was turned
    const { current } = box;
    if (!current) return;
    const look = () => {
      const content = current.querySelector<HTMLElement>(".ant-table-content");
      if (!content) return;
      if (content.scrollWidth > content.clientWidth) content.tabIndex = 0;
      else content.removeAttribute("tabindex");
    };
    const seen = new ResizeObserver(look);
    seen.observe(current);
    return () => seen.disconnect();
  });
  return (
    <div ref={box}>
      {long && !searched && (
        <Input
          className="lines-search"
          allowClear
          value={wanted}
          aria-label={say("Search these lines")}
          placeholder={say("Search these lines")}
          onChange={(e) => setWanted(e.target.value)}
        />
      )}
      <Table<T>
        size="small"
        dataSource={kept}
        columns={sorted}
        rowKey={(row) => rows.indexOf(row)}
        pagination={kept.length > PAGE ? { pageSize: PAGE, showSizeChanger: false } : false}
        {...more}
      />
    </div>
  );
}

type Column<T> = NonNullable<TableProps<T>["columns"]>[number];

/** In the order of what a column shows; numbers by their size. */
function byText<T extends object>(c: Column<T>): (a: T, b: T) => number {
  const said = (row: T): string => {
    if ("render" in c && c.render) return textOf(c.render(undefined, row, 0) as ReactNode);
    const key = "dataIndex" in c ? c.dataIndex : undefined;
    return typeof key === "string" ? textOf((row as Record<string, unknown>)[key]) : "";
  };
  return (a, b) => said(a).localeCompare(said(b), undefined, { numeric: true });
}

/** Every word in a value or in what is drawn of it, identifiers left out. */
export function textOf(value: unknown): string {
  if (typeof value === "string") return /^[0-9a-f]{8}-[0-9a-f-]{27}$/.test(value) ? "" : value;
  if (typeof value === "number") return String(value);
  if (Array.isArray(value)) return value.map(textOf).join(" ");
  if (isValidElement<{ children?: unknown; of?: unknown }>(value)) return textOf([value.props.children, value.props.of]);
  if (value && typeof value === "object") return textOf(Object.values(value));
  return "";
}
