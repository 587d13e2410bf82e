import { cruise } from "dependency-cruiser";
import rules from "../.dependency-cruiser.mjs";
import { ROOT } from "./prepare.mjs";

/*
 * The folders of a part of the source and which know which, as a Mermaid drawing; two that know each other have an arrow with
 * two heads: npm run structure -- src/web
 */
process.chdir(ROOT);
const part = process.argv[2] ?? "src/web";
const { output } = await cruise([part], { ...rules.options, includeOnly: `^${part}/`, exclude: "\\.test\\.tsx?$|/test/" });
const roomOf = (path) => path.slice(part.length + 1).split("/")[0];
const knows = new Set();
for (const { source, dependencies } of output.modules)
  for (const { resolved } of dependencies)
    if (roomOf(source) !== roomOf(resolved) && source.split("/").length > 3 && resolved.split("/").length > 3)
      knows.add(`${roomOf(source)} ${roomOf(resolved)}`);
const lines = [...knows].sort().flatMap((pair) => {
  const [a, b] = pair.split(" ");
  const isMutual = knows.has(`${b} ${a}`);
  return isMutual ? (a < b ? [`  ${a} <==> ${b}`] : []) : [`  ${a} --> ${b}`];
});
process.stdout.write(`flowchart TD\n${lines.join("\n")}\n`);
