import english from "antd/es/locale/en_US";
import type { Locale } from "antd/es/locale";
import { languageNow, say } from "../shared/say";

/** What the component library says by itself, in the language of the pages. */
export function libraryWords(): Locale {
  const picker = english.DatePicker;
  return {
    ...english,
    locale: languageNow(),
    global: {
      ...english.global,
      placeholder: say("Please select"),
      close: say("Close"),
      show: say("Show"),
      hide: say("Hide"),
    },
    Table: {
      ...english.Table,
      filterConfirm: say("OK"),
      filterReset: say("Reset"),
      filterSearchPlaceholder: say("Search"),
      emptyText: say("Nothing here yet."),
      sortTitle: say("Sort"),
      expand: say("Expand row"),
      collapse: say("Collapse row"),
      triggerDesc: say("Sort descending"),
      triggerAsc: say("Sort ascending"),
      cancelSort: say("Cancel sorting"),
    },
    Modal: { okText: say("OK"), cancelText: say("Cancel"), justOkText: say("OK") },
    Popconfirm: { okText: say("OK"), cancelText: say("Cancel") },
    Empty: { description: say("Nothing here yet.") },
    Pagination: {
      ...english.Pagination,
      items_per_page: say("/ page"),
      jump_to: say("Go to"),
      page: say("Page"),
      prev_page: say("Previous page"),
      next_page: say("Next page"),
      prev_5: say("Back 5 pages"),
      next_5: say("Forward 5 pages"),
      page_size: say("Rows per page"),
    },
    ...(picker && {
      DatePicker: {
        ...picker,
        lang: {
          ...picker.lang,
          placeholder: say("Choose a day"),
          today: say("Today"),
          month: say("Month"),
          year: say("Year"),
          dateSelect: say("Choose a day"),
          monthSelect: say("Choose a month"),
          yearSelect: say("Choose a year"),
          previousMonth: say("Previous month"),
          nextMonth: say("Next month"),
          previousYear: say("Previous year"),
          nextYear: say("Next year"),
          clear: say("Clear"),
        },
      },
    }),
  };
}
