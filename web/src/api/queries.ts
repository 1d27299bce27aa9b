import { queryOptions } from "@tanstack/react-query";
import { api, body, type Schema } from "./client";

/** What is polled, every few seconds while the page is shown. */
const LIVE = 5_000;

export const queries = {
  me: () => queryOptions({ queryKey: ["me"], queryFn: () => body(api.GET("/api/me")), retry: false, staleTime: 60_000 }),
  bench: () => queryOptions({ queryKey: ["bench"], queryFn: () => body(api.GET("/api/bench")), refetchInterval: LIVE }),
  devices: () => queryOptions({ queryKey: ["devices"], queryFn: () => body(api.GET("/api/devices")) }),
  floor: () => queryOptions({ queryKey: ["floor"], queryFn: () => body(api.GET("/api/floor")), refetchInterval: LIVE }),
  classTable: (group: string) =>
    queryOptions({
      queryKey: ["class", group],
      queryFn: () => body(api.GET("/api/class", { params: { query: group ? { group } : {} } })),
    }),
  firstRun: () => queryOptions({ queryKey: ["first-run"], queryFn: () => body(api.GET("/api/first-run")), staleTime: Infinity }),
  ready: () => queryOptions({ queryKey: ["ready"], queryFn: () => body(api.GET("/api/ready")) }),
  machineKinds: () => queryOptions({ queryKey: ["machine-kinds"], queryFn: () => body(api.GET("/api/machine-kinds")), staleTime: Infinity }),
  cutterKinds: () => queryOptions({ queryKey: ["cutter-kinds"], queryFn: () => body(api.GET("/api/cutter-kinds")), staleTime: Infinity }),
  gaugeChecks: (gauge: string) =>
    queryOptions({
      queryKey: ["gauge-checks", gauge],
      queryFn: () => body(api.GET("/api/gauges/{gauge}/checks", { params: { path: { gauge } } })),
    }),
  gaugeKinds: () => queryOptions({ queryKey: ["gauge-kinds"], queryFn: () => body(api.GET("/api/gauge-kinds")), staleTime: Infinity }),
  people: (asked: { find: string; role: Schema["Role"] | undefined; active: boolean }) =>
    queryOptions({
      queryKey: ["people", asked],
      queryFn: () => body(api.GET("/api/people", { params: { query: asked } })),
      placeholderData: (before: Schema["PeopleList"] | undefined) => before,
    }),
  personActs: (person: string) =>
    queryOptions({
      queryKey: ["person-acts", person],
      queryFn: () => body(api.GET("/api/people/{person}/acts", { params: { path: { person } } })),
    }),
  noticed: (group: string) =>
    queryOptions({
      queryKey: ["noticed", group],
      queryFn: () => body(api.GET("/api/signs", { params: { query: group ? { group } : {} } })),
    }),
  skillNames: () => queryOptions({ queryKey: ["skill-map", ""], queryFn: () => body(api.GET("/api/skill-map")) }),
  students: (find: string) =>
    queryOptions({
      queryKey: ["students", find],
      queryFn: () => body(api.GET("/api/students", { params: { query: { find } } })),
      placeholderData: (was: Schema["FoundStudents"] | undefined) => was,
    }),
  partChoices: () => queryOptions({ queryKey: ["part-choices"], queryFn: () => body(api.GET("/api/part-choices")) }),
  projects: () => queryOptions({ queryKey: ["projects"], queryFn: () => body(api.GET("/api/projects")) }),
  shop: () => queryOptions({ queryKey: ["shop"], queryFn: () => body(api.GET("/api/shop")) }),
  project: (project: string) =>
    queryOptions({
      queryKey: ["project", project],
      queryFn: () => body(api.GET("/api/projects/{project}", { params: { path: { project } } })),
    }),
  candidates: (project: string, machine: string, group: string) =>
    queryOptions({
      queryKey: ["candidates", project, machine, group],
      queryFn: () =>
        body(
          api.GET("/api/projects/{project}/candidates", {
            params: { path: { project }, query: { ...(machine && { machine }), ...(group && { group }) } },
          }),
        ),
    }),
  term: (group: string) =>
    queryOptions({
      queryKey: ["term", group],
      queryFn: () => body(api.GET("/api/groups/{group}/term", { params: { path: { group } } })),
    }),
  drawing: (version: string) =>
    queryOptions({
      queryKey: ["drawing", version],
      queryFn: () => body(api.GET("/api/versions/{version}/drawing", { params: { path: { version } } })),
      staleTime: Infinity,
    }),
  jobCard: (assignment: string) =>
    queryOptions({
      queryKey: ["job-card", assignment],
      queryFn: () => body(api.GET("/api/job-cards/{assignment}", { params: { path: { assignment } } })),
      refetchInterval: LIVE,
    }),
  check: (hand_in: string) =>
    queryOptions({
      queryKey: ["check", hand_in],
      queryFn: () => body(api.GET("/api/hand-ins/{hand_in}", { params: { path: { hand_in } } })),
    }),
  skills: (student: string) =>
    queryOptions({
      queryKey: ["skills", student],
      queryFn: () => body(api.GET("/api/students/{student}/skills", { params: { path: { student } } })),
    }),
  notice: () => queryOptions({ queryKey: ["notice"], queryFn: () => body(api.GET("/api/notice")) }),
  session: () => queryOptions({ queryKey: ["session"], queryFn: () => body(api.GET("/api/session")), refetchInterval: LIVE }),
  start: (machine: string) =>
    queryOptions({
      queryKey: ["start", machine],
      queryFn: () => body(api.GET("/api/machines/{machine}/start", { params: { path: { machine } } })),
      refetchInterval: 2_000,
    }),
  calls: () => queryOptions({ queryKey: ["calls"], queryFn: () => body(api.GET("/api/calls")), refetchInterval: LIVE }),
  tags: () => queryOptions({ queryKey: ["tags"], queryFn: () => body(api.GET("/api/tags")), refetchInterval: LIVE }),
  check_state: (bank: string) =>
    queryOptions({
      queryKey: ["knowledge", bank],
      queryFn: () => body(api.GET("/api/checks/{bank}", { params: { path: { bank } } })),
    }),
  banks: () => queryOptions({ queryKey: ["banks"], queryFn: () => body(api.GET("/api/banks")) }),
  bank: (bank: string) =>
    queryOptions({
      queryKey: ["bank", bank],
      queryFn: () => body(api.GET("/api/banks/{bank}", { params: { path: { bank } } })),
    }),
  skillMap: (student: string) =>
    queryOptions({
      queryKey: ["skill-map", student],
      queryFn: () => body(api.GET("/api/skill-map", { params: { query: student ? { student } : {} } })),
    }),
  skillGraph: () => queryOptions({ queryKey: ["skill-graph"], queryFn: () => body(api.GET("/api/skill-graph")) }),
  registerState: () => queryOptions({ queryKey: ["register-state"], queryFn: () => body(api.GET("/api/register")) }),
  register: (name: Schema["RegisterName"], wanted: { before?: string; after?: string; on?: string; student?: string }) =>
    queryOptions({
      queryKey: ["register", name, wanted],
      queryFn: () => body(api.GET("/api/registers/{name}", { params: { path: { name }, query: wanted } })),
    }),
  machine: (machine: string) =>
    queryOptions({
      queryKey: ["machine", machine],
      queryFn: () => body(api.GET("/api/machines/{machine}", { params: { path: { machine } } })),
    }),
  gone: () => queryOptions({ queryKey: ["gone"], queryFn: () => body(api.GET("/api/gone")) }),
  workholding: () => queryOptions({ queryKey: ["workholding"], queryFn: () => body(api.GET("/api/workholding")) }),
  setupBench: (machine: string) =>
    queryOptions({
      queryKey: ["setup-bench", machine],
      queryFn: () => body(api.GET("/api/machines/{machine}/setups", { params: { path: { machine } } })),
    }),
  setup: (setup: string) =>
    queryOptions({
      queryKey: ["setup", setup],
      queryFn: () => body(api.GET("/api/setups/{setup}", { params: { path: { setup } } })),
    }),
  plan: (assignment: string, machine: string) =>
    queryOptions({
      queryKey: ["plan", assignment, machine],
      queryFn: () => body(api.GET("/api/job-cards/{assignment}/plan", { params: { path: { assignment }, query: machine ? { machine } : {} } })),
    }),
  run: (assignment: string) =>
    queryOptions({
      queryKey: ["run", assignment],
      queryFn: async ({ client, queryKey }): Promise<Schema["RunCardView"]> => {
        const fresh = await body(api.GET("/api/job-cards/{assignment}/run", { params: { path: { assignment } } }));
        // asked for before a tick, answered after it: the tick's own answer is the newer one
        const kept = client.getQueryData<Schema["RunCardView"]>(queryKey);
        return kept && kept.as_of > fresh.as_of ? kept : fresh;
      },
      // what is said on it by whoever teaches comes by itself
      refetchInterval: 15_000,
    }),
  dry: (assignment: string) =>
    queryOptions({
      queryKey: ["dry", assignment],
      queryFn: () => body(api.GET("/api/job-cards/{assignment}/dry", { params: { path: { assignment } } })),
    }),
  runFrames: (assignment: string, plan: number) =>
    queryOptions({
      queryKey: ["run-frames", assignment, plan],
      queryFn: () => body(api.GET("/api/job-cards/{assignment}/run/frames", { params: { path: { assignment } } })),
      staleTime: Infinity,
    }),
  touch: (version: string) =>
    queryOptions({
      queryKey: ["touch", version],
      queryFn: () => body(api.GET("/api/versions/{version}/touch", { params: { path: { version } } })),
      staleTime: Infinity,
    }),
  groupNeeds: (group: string) =>
    queryOptions({
      queryKey: ["group-needs", group],
      queryFn: () => body(api.GET("/api/groups/{group}/plan-needs", { params: { path: { group } } })),
    }),
  groupPlans: (project: string, group: string) =>
    queryOptions({
      queryKey: ["group-plans", project, group],
      queryFn: () => body(api.GET("/api/projects/{project}/plans", { params: { path: { project }, query: group ? { group } : {} } })),
    }),
  holding: (assignment: string) =>
    queryOptions({
      queryKey: ["holding", assignment],
      queryFn: () => body(api.GET("/api/job-cards/{assignment}/holding", { params: { path: { assignment } } })),
    }),
  moves: (machine: string) =>
    queryOptions({
      queryKey: ["moves", machine],
      queryFn: () => body(api.GET("/api/machines/{machine}/moves", { params: { path: { machine } } })),
    }),
  datums: (assignment: string, cutter = "") =>
    queryOptions({
      queryKey: ["datums", assignment, cutter],
      queryFn: () => body(api.GET("/api/job-cards/{assignment}/datums", { params: { path: { assignment }, query: { cutter } } })),
    }),
  reckonings: () => queryOptions({ queryKey: ["reckonings"], queryFn: () => body(api.GET("/api/reckonings")), staleTime: Infinity }),
  glossary: () => queryOptions({ queryKey: ["glossary"], queryFn: () => body(api.GET("/api/glossary")), staleTime: Infinity }),
  reckonExample: (name: string) =>
    queryOptions({
      queryKey: ["reckon-example", name],
      queryFn: () => body(api.GET("/api/reckonings/{name}/example", { params: { path: { name } } })),
      staleTime: Infinity,
      retry: false,
    }),
  reckonFill: (c: { machine: string; material: string; cutter: string }) =>
    queryOptions({
      queryKey: ["reckon-fill", c.machine, c.material, c.cutter],
      queryFn: () =>
        body(
          api.GET("/api/reckoning-fills", {
            params: {
              query: {
                ...(c.machine && { machine: c.machine }),
                ...(c.material && { material: c.material }),
                ...(c.cutter && { cutter: c.cutter }),
              },
            },
          }),
        ),
      placeholderData: (was: Schema["Fills"] | undefined) => was,
    }),
  exercises: () => queryOptions({ queryKey: ["exercises"], queryFn: () => body(api.GET("/api/exercises")) }),
  sheet: (sheet: string) =>
    queryOptions({
      queryKey: ["sheet", sheet],
      queryFn: () => body(api.GET("/api/exercise-sheets/{sheet}", { params: { path: { sheet } } })),
    }),
  lapses: () => queryOptions({ queryKey: ["lapses"], queryFn: () => body(api.GET("/api/lapses")) }),
  studies: (gauge = "") =>
    queryOptions({
      queryKey: ["studies", gauge],
      queryFn: () => body(api.GET("/api/studies", { params: { query: { ...(gauge && { gauge }) } } })),
    }),
  study: (study: string) =>
    queryOptions({
      queryKey: ["study", study],
      queryFn: () => body(api.GET("/api/studies/{study}", { params: { path: { study } } })),
      refetchInterval: (q) => (q.state.data?.ended ? false : LIVE),
    }),
  crib: () => queryOptions({ queryKey: ["crib"], queryFn: () => body(api.GET("/api/crib")), refetchInterval: LIVE }),
  stock: () => queryOptions({ queryKey: ["stock"], queryFn: () => body(api.GET("/api/stock")) }),
  materialForms: () => queryOptions({ queryKey: ["material-forms"], queryFn: () => body(api.GET("/api/materials")) }),
  accommodation: (student: string) =>
    queryOptions({
      queryKey: ["accommodation", student],
      queryFn: () => body(api.GET("/api/students/{student}/accommodation", { params: { path: { student } } })),
    }),
  accommodationsHere: () =>
    queryOptions({ queryKey: ["accommodations-here"], queryFn: () => body(api.GET("/api/floor/accommodations")), refetchInterval: 60_000 }),
  rigs: () => queryOptions({ queryKey: ["rigs"], queryFn: () => body(api.GET("/api/rigs")) }),
  rigRun: (run: string) =>
    queryOptions({
      queryKey: ["rig-run", run],
      queryFn: () => body(api.GET("/api/rigs/runs/{run}", { params: { path: { run } } })),
    }),
};
