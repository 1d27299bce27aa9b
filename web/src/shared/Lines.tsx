import { Table, type TableProps } from "antd";

/** From so many lines on a table is paged. */
const PAGE = 50;

/**
 * Lines under a head: the table of this application, on Ant Design's.
 * Long ones are paged; what sorts or filters says so in its columns.
 */
export function Lines<T extends object>({ rows, ...more }: { rows: readonly T[] } & Omit<TableProps<T>, "dataSource">) {
  return <Table<T> size="small" dataSource={rows} pagination={rows.length > PAGE ? { pageSize: PAGE, showSizeChanger: false } : false} {...more} />;
}
