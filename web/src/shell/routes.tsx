import { lazy, type ComponentType, type LazyExoticComponent } from "react";
import type { Me } from "../api/client";
import { say } from "../shared/say";

type Page = LazyExoticComponent<ComponentType>;
type Who = "student" | "staff" | "instructor" | "readers" | "all";

/**
 * Every page, once: its address, what it is called, under which page it lies, who may open it,
 * and its key in the top bar. Routes, titles, breadcrumbs and the top bar are made from here.
 */
export type Place = {
  path: string;
  name: string;
  who: Who;
  page: Page;
  /** The path of the page above it, or the home of whoever looks; none for one in the top bar. */
  under?: string;
  /** The letter after g that leads there. */
  letter?: string;
  /** What it stands together with under one name in the top bar; alone it stands there by its own name. */
  shelf?: Shelf;
};

export type Shelf = "skills" | "practice" | "shop";

const SHELVES: Record<Shelf, string> = { skills: say("Skills"), practice: say("Practice"), shop: say("Shop") };

const page = (load: () => Promise<{ default: ComponentType }>): Page => lazy(load);

const HOME = "home";

export const PLACES: readonly Place[] = [
  { path: "/bench", name: say("Bench"), who: "student", letter: "b", page: page(() => import("../pages/jobcards/Bench")) },
  {
    path: "/floor",
    name: say("Floor"),
    who: "readers",
    letter: "f",
    page: page(() => import("../pages/session/FloorPage")),
  },
  {
    path: "/session",
    name: say("Session"),
    who: "readers",
    letter: "e",
    page: page(() => import("../pages/session/SessionPage")),
  },
  { path: "/class", name: say("Class"), who: "readers", letter: "c", page: page(() => import("../pages/skills/ClassPage")) },
  { path: "/parts", name: say("Parts"), who: "all", letter: "p", page: page(() => import("../pages/parts/ProjectsPage")) },
  {
    path: "/skills/:student",
    name: say("My skills"),
    who: "all",
    letter: "k",
    shelf: "skills",
    page: page(() => import("../pages/skills/SkillsPage")),
  },
  { path: "/ladder", name: say("Ladder"), who: "all", letter: "l", shelf: "skills", page: page(() => import("../pages/skills/LadderPage")) },
  { path: "/rigs", name: say("Rigs"), who: "all", letter: "i", shelf: "practice", page: page(() => import("../pages/practice/RigsPage")) },
  {
    path: "/exercises",
    name: say("Exercises"),
    letter: "y",
    who: "all",
    shelf: "practice",
    page: page(() => import("../pages/practice/ExercisesPage")),
  },
  {
    path: "/reckon/:name?",
    name: say("Reckoner"),
    who: "all",
    letter: "n",
    shelf: "practice",
    page: page(() => import("../pages/reckoning/ReckonPage")),
  },
  {
    path: "/words",
    name: say("Words"),
    who: "all",
    letter: "v",
    shelf: "practice",
    page: page(() => import("../pages/skills/WordsPage")),
  },
  { path: "/crib/:place?", name: say("Crib"), who: "all", letter: "x", shelf: "shop", page: page(() => import("../pages/shop/CribPage")) },
  {
    path: "/shop",
    name: say("How we work"),
    who: "readers",
    letter: "s",
    shelf: "shop",
    page: page(() => import("../pages/administration/ShopPage")),
  },
  {
    path: "/shop/ready",
    name: say("Before the first class"),
    who: "readers",
    under: "/shop",
    page: page(() => import("../pages/administration/ReadyPage")),
  },
  {
    path: "/shop/machines/new",
    name: say("A new machine"),
    who: "instructor",
    under: "/shop/machines",
    page: page(() => import("../pages/administration/NewMachinePage")),
  },
  {
    path: "/shop/machines",
    name: say("Machines"),
    who: "readers",
    letter: "m",
    shelf: "shop",
    page: page(() => import("../pages/administration/MachinesPage")),
  },
  {
    path: "/shop/gauges",
    name: say("Gauges"),
    who: "readers",
    letter: "a",
    shelf: "shop",
    page: page(() => import("../pages/administration/GaugesPage")),
  },
  {
    path: "/shop/gauges/:gauge",
    name: say("Gauge"),
    who: "readers",
    under: "/shop/gauges",
    page: page(() => import("../pages/administration/GaugeCheckPage")),
  },
  {
    path: "/shop/workholding",
    name: say("Workholding"),
    who: "readers",
    letter: "h",
    shelf: "shop",
    page: page(() => import("../pages/administration/WorkholdingPage")),
  },
  {
    path: "/shop/teaching",
    name: say("Teaching"),
    who: "readers",
    letter: "t",
    shelf: "shop",
    page: page(() => import("../pages/administration/TeachingPage")),
  },
  {
    path: "/shop/people",
    name: say("People"),
    who: "readers",
    letter: "q",
    shelf: "shop",
    page: page(() => import("../pages/administration/PeoplePage")),
  },
  {
    path: "/group/:group",
    name: say("Term"),
    who: "readers",
    under: "/shop/people",
    page: page(() => import("../pages/parts/TermPage")),
  },
  {
    path: "/shop/devices",
    name: say("Devices"),
    who: "readers",
    letter: "d",
    shelf: "shop",
    page: page(() => import("../pages/administration/DevicesPage")),
  },
  {
    path: "/report",
    name: say("Report"),
    who: "all",
    letter: "o",
    page: page(() => import("../pages/administration/ReportPage")),
  },
  {
    path: "/records/:name?",
    name: say("Records"),
    who: "readers",
    letter: "r",
    page: page(() => import("../pages/administration/RecordsPage")),
  },
  {
    path: "/knowledge/:bank",
    name: say("Knowledge check"),
    who: "student",
    under: HOME,
    page: page(() => import("../pages/skills/KnowledgePage")),
  },
  {
    path: "/assess/:student",
    name: say("Assess"),
    who: "readers",
    under: HOME,
    page: page(() => import("../pages/skills/AssessPage")),
  },
  {
    path: "/questions/:bank?",
    name: say("Questions"),
    who: "readers",
    under: "/shop/teaching",
    page: page(() => import("../pages/skills/BanksPage")),
  },
  {
    path: "/check/:handIn",
    name: say("Check"),
    who: "readers",
    under: HOME,
    page: page(() => import("../pages/jobcards/CheckPage")),
  },
  {
    path: "/job/:assignment",
    name: say("Job card"),
    who: "all",
    under: HOME,
    page: page(() => import("../pages/jobcards/JobCardPage")),
  },
  {
    path: "/job/:assignment/find",
    name: say("Finding the part"),
    who: "all",
    under: "/job/:assignment",
    page: page(() => import("../pages/locating/FindPage")),
  },
  {
    path: "/job/:assignment/plan",
    name: say("Plan"),
    who: "all",
    under: "/job/:assignment",
    page: page(() => import("../pages/planning/PlanPage")),
  },
  {
    path: "/job/:assignment/run",
    name: say("Run card"),
    who: "all",
    under: "/job/:assignment",
    page: page(() => import("../pages/cutting/RunPage")),
  },
  {
    path: "/job/:assignment/dry",
    name: say("Dry run"),
    who: "all",
    under: "/job/:assignment",
    page: page(() => import("../pages/cutting/DryPage")),
  },
  {
    path: "/hold/:assignment",
    name: say("Holding the work"),
    who: "all",
    under: "/job/:assignment",
    page: page(() => import("../pages/setup/HoldingPage")),
  },
  {
    path: "/start/:machine",
    name: say("Start"),
    who: "all",
    under: HOME,
    page: page(() => import("../pages/session/StartPage")),
  },
  { path: "/rig/:run", name: say("Rig"), who: "all", under: "/rigs", page: page(() => import("../pages/practice/RigPage")) },
  {
    path: "/exercises/:calculation",
    name: say("Exercise"),
    who: "all",
    under: "/exercises",
    page: page(() => import("../pages/practice/ExercisePage")),
  },
  {
    path: "/study/:study",
    name: say("Repeated readings"),
    who: "all",
    under: "/exercises",
    page: page(() => import("../pages/practice/StudyPage")),
  },
  {
    path: "/sheet/:sheet",
    name: say("Sheet"),
    who: "all",
    under: "/exercises",
    page: page(() => import("../pages/practice/SheetPage")),
  },
  {
    path: "/machines/:machine",
    name: say("Machine"),
    who: "all",
    under: HOME,
    page: page(() => import("../pages/shop/MachinePage")),
  },
  {
    path: "/machines/:machine/moves",
    name: say("Moves"),
    who: "all",
    under: "/machines/:machine",
    page: page(() => import("../pages/locating/MovesPage")),
  },
  {
    path: "/setup/:machine",
    name: say("Setting up"),
    who: "all",
    under: "/machines/:machine",
    page: page(() => import("../pages/setup/SetupBenchPage")),
  },
  {
    path: "/setups/:setup",
    name: say("Working record"),
    who: "all",
    under: HOME,
    page: page(() => import("../pages/setup/RecordPage")),
  },
  { path: "/parts/new", name: say("New part"), who: "instructor", under: "/parts", page: page(() => import("../pages/parts/NewPartPage")) },
  {
    path: "/parts/:project/change",
    name: say("Change a part"),
    who: "instructor",
    under: "/parts/:project",
    page: page(() => import("../pages/parts/NewPartPage")),
  },
  {
    path: "/parts/:project",
    name: say("Part"),
    who: "all",
    under: "/parts",
    page: page(() => import("../pages/parts/ProjectPage")),
  },
];

function opens(me: Me, who: Who): boolean {
  switch (who) {
    case "all":
      return true;
    case "student":
      return me.role === "student";
    case "staff":
      return me.role === "instructor" || me.role === "assistant";
    case "instructor":
      return me.role === "instructor";
    case "readers":
      return me.role !== "student";
  }
}

/** The pages that somebody may open. */
export function placesOf(me: Me): Place[] {
  return PLACES.filter((p) => opens(me, p.who));
}

/** Where somebody begins. */
export function homeOf(me: Me): string {
  return me.role === "student" ? "/bench" : "/floor";
}

export type TopPlace = { to: string; name: string; key: string; covers: readonly string[] };

const bare = (path: string, me: Me) => path.replace(":student", me.id).replace(/\/:\w+\?/, "");

/** Whether somebody meets a page by itself: staff find a student's skills in the class, nobody else's report in the bar. */
function shown(p: Place, me: Me): boolean {
  if (p.letter === undefined) return false;
  if (me.role === "student") return true;
  if (p.shelf === "skills") return false;
  return me.role !== "assistant" || p.path !== "/records/:name?";
}

/** Every page that has a letter for somebody, for shortcuts. */
export function lettered(me: Me): TopPlace[] {
  return placesOf(me)
    .filter((p) => shown(p, me))
    .map((p) => ({ to: bare(p.path, me), name: p.name, key: p.letter ?? "", covers: [bare(p.path, me)] }));
}

/** The pages that stand together with one, itself among them; empty for one that stands alone. */
export function shelfOf(place: Place, me: Me): TopPlace[] {
  if (!place.shelf) return [];
  const found = placesOf(me)
    .filter((p) => p.shelf === place.shelf && shown(p, me))
    .map((p) => ({ to: bare(p.path, me), name: p.name, key: p.letter ?? "", covers: [bare(p.path, me)] }));
  return found.length > 1 ? found : [];
}

/** The top bar of somebody: at most seven places; what belongs together is one of them. Reporting has its own button. */
export function topBar(me: Me): TopPlace[] {
  const found: TopPlace[] = [];
  const shelves = new Map<Shelf, TopPlace>();
  for (const p of placesOf(me).filter((x) => shown(x, me) && x.path !== "/report")) {
    const to = bare(p.path, me);
    const there = p.shelf && shelves.get(p.shelf);
    if (there) {
      const joined = { ...there, name: SHELVES[p.shelf ?? "shop"], covers: [...there.covers, to] };
      found[found.indexOf(there)] = joined;
      shelves.set(p.shelf ?? "shop", joined);
      continue;
    }
    const place = { to, name: p.name, key: p.letter ?? "", covers: [to] };
    found.push(place);
    if (p.shelf) shelves.set(p.shelf, place);
  }
  return found;
}

/** The pages above an address, the outermost first, each with the address it has here; the page itself last. */
export function trail(place: Place, params: Readonly<Record<string, string | undefined>>, me: Me): { name: string; to: string }[] {
  const to = place.path.replace(/\/:(\w+)\?/g, "").replace(/:(\w+)/g, (_, name: string) => params[name] ?? "");
  const under = place.under === HOME ? homeOf(me) : place.under;
  const above = placesOf(me).find((p) => p.path === under || p.path.replace(/\/:\w+\?/, "") === under);
  const reached = above && [...above.path.matchAll(/:(\w+)(?!\w*\?)/g)].every((m) => above.path.includes(`:${m[1]}?`) || params[m[1] ?? ""]);
  return [...(above && reached ? trail(above, params, me) : []), { name: place.name, to }];
}
