const core = "^src/core/";
const web = "^src/web/";
const tests = "\\.test\\.tsx?$|^src/core/test/";

/** Rooms of the core in the order in which they may import each other: a room knows only those before it. */
const CORE_ROOMS = [
  "caching",
  "music",
  "hands",
  "passage",
  "acoustics",
  "timeline",
  "grips",
  "chords",
  "writer",
  "edit",
  "fingering",
  "intent",
  "hazards",
  "shapes",
  "plan",
  "document",
  "words",
  "drawing",
  "verdict",
  "loudness",
  "script",
  "sound",
  "remedies",
  "refinger",
  "drills",
  "practice",
  "perform",
  "take",
  "propose",
  "formats",
];
/** What strings the rooms together: known to the formats alone, which write plans out. */
const ENGINE = `${core}[^/]+\\.ts$`;

/** Rooms of the page that its views share, in order. */
const SHARED_ROOMS = ["store", "look", "parts", "planner", "jobs", "listen", "microphone", "score", "stand"];
/** Views know no other view. */
const VIEWS = ["bench", "writer", "treatments", "ring", "drills", "takes", "sheet", "setup", "log", "shelf", "teaching"];

// The last one knows everything.
const coreRules = CORE_ROOMS.slice(0, -1).map((room, i) => ({
  name: `core-${room}-knows-only-earlier-rooms`,
  severity: "error",
  from: { path: `${core}${room}/`, pathNot: tests },
  to: { path: `${core}(${CORE_ROOMS.slice(i + 1).join("|")})/|${ENGINE}` },
}));

const sharedRules = SHARED_ROOMS.map((room, i) => ({
  name: `page-${room}-knows-only-earlier-rooms`,
  severity: "error",
  from: { path: `${web}${room}/`, pathNot: tests },
  to: { path: `${web}(?!(${SHARED_ROOMS.slice(0, i + 1).join("|")})/)` },
}));

const viewRules = VIEWS.map((view) => ({
  name: `page-${view}-knows-no-other-view`,
  severity: "error",
  from: { path: `${web}${view}/`, pathNot: tests },
  to: { path: `${web}(?!(${[...SHARED_ROOMS, view].join("|")})/)` },
}));

export default {
  forbidden: [
    { name: "no-circles", severity: "error", from: {}, to: { circular: true } },
    {
      name: "core-is-pure",
      severity: "error",
      from: { path: core, pathNot: tests },
      to: {
        pathNot: `${core}|^node_modules/(zod|immer|fast-json-patch|tonal|@tonaljs|fast-xml-parser|saxes|fflate|midi-file|@types/midi-file|d3-dsv|@types/d3-dsv|fast-deep-equal|@sindresorhus|pure-rand|ts-fsrs|fft.js)/`,
      },
    },
    { name: "core-knows-no-node", severity: "error", from: { path: core, pathNot: tests }, to: { dependencyTypes: ["core"] } },
    {
      name: "every-core-folder-has-its-place-in-the-order",
      severity: "error",
      from: { path: `${core}(?!(${[...CORE_ROOMS, "test"].join("|")})/)[^/]+/` },
      to: {},
    },
    { name: "page-knows-no-server", severity: "error", from: { path: web }, to: { path: "^src/(server|cli|benchmarks)/" } },
    {
      // Whose length depends on what somebody sent is done in a thread that can be ended.
      name: "the-server-does-no-work-itself",
      severity: "error",
      from: { path: "^src/server/", pathNot: `${tests}|^src/server/(work/tasks|backups/(rows|folder)|demo|test/.*)\\.ts$` },
      to: {
        path: `${core}(engine|summary|formats/(files|read)|passage/parse|formats/(midi|musicxml|tab|sheet)/(read|write|sheet))\\.ts$`,
        dependencyTypesNot: ["type-only"],
      },
    },
    { name: "server-knows-no-page", severity: "error", from: { path: "^src/(server|cli)/" }, to: { path: web } },
    { name: "api-knows-the-core-alone", severity: "error", from: { path: "^src/api/" }, to: { path: "^src/(?!(api|core)/)" } },
    {
      name: "a-reader-of-actions-knows-nothing-else",
      severity: "error",
      from: { path: `${core}script/(known|habits|reading)\\.ts$` },
      to: { path: core, pathNot: `${core}(script/(known|habits|reading)|document/plan|hands/fingers|fingering/hand-state|passage/bends|caching/fold)\\.ts$` },
    },
    { name: "resolvable", severity: "error", from: {}, to: { couldNotResolve: true } },
    ...coreRules,
    ...sharedRules,
    ...viewRules,
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    doNotFollow: { path: "node_modules" },
    enhancedResolveOptions: {
      exportsFields: ["exports"],
      conditionNames: ["import", "module", "default", "types"],
      extensions: [".ts", ".tsx", ".js", ".mjs", ".css", ".json"],
    },
  },
};
