const core = "^src/core/";
/** Stages in the order in which they may import each other: a stage knows only those before it. */
const stages = [
  "memory",
  "music",
  "hands",
  "passage",
  "acoustics",
  "timeline",
  "grips",
  "fingering",
  "intent",
  "hazards",
  "shapes",
  "plan",
  "document",
  "words",
  "verdict",
  "loudness",
  "drawing",
  "script",
  "sound",
  "remedies",
  "refinger",
];

const stageRules = stages.map((stage, i) => ({
  name: `stage-${stage}-knows-only-earlier-ones`,
  severity: "error",
  from: { path: `${core}${stage}/`, pathNot: "\\.test\\.ts$" },
  to: { path: `${core}(${[...stages.slice(i + 1), "formats"].join("|")})/|${core}[^/]+\\.ts$` },
}));

export default {
  forbidden: [
    { name: "no-circles", severity: "error", from: {}, to: { circular: true } },
    {
      name: "core-is-pure",
      severity: "error",
      from: { path: core, pathNot: "\\.test\\.ts$|^src/core/test/" },
      to: { pathNot: `${core}|^node_modules/(zod|immer|fast-json-patch|tonal|@tonaljs|fast-xml-parser|fflate|midi-file|@types/midi-file)/` },
    },
    { name: "core-knows-no-node", severity: "error", from: { path: core, pathNot: "\\.test\\.ts$|^src/core/test/" }, to: { dependencyTypes: ["core"] } },
    { name: "page-knows-no-server", severity: "error", from: { path: "^src/web/" }, to: { path: "^src/(server|cli|bench)/" } },
    { name: "server-knows-no-page", severity: "error", from: { path: "^src/(server|cli)/" }, to: { path: "^src/web/" } },
    {
      name: "a-reader-of-actions-knows-nothing-else",
      severity: "error",
      from: { path: `${core}script/(known|habits|reading)\\.ts$` },
      to: { path: core, pathNot: `${core}(script/(known|habits|reading)|document/plan|hands/fingers|fingering/hand-state|passage/bends|memory/fold)\\.ts$` },
    },
    { name: "resolvable", severity: "error", from: {}, to: { couldNotResolve: true } },
    ...stageRules,
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
