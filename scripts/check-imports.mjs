import { cruise } from "dependency-cruiser";
import rules from "../.dependency-cruiser.mjs";
import { ROOT } from "./prepare.mjs";

// Import rules as code; a run that looked at nothing is a failure too.
process.chdir(ROOT);
const { output } = await cruise(["src"], { ruleSet: rules, validate: true, ...rules.options });
const { summary } = output;
if (summary.totalCruised === 0) throw new Error("the import check looked at no modules");
for (const { rule, from, to } of summary.violations) process.stderr.write(`${rule.name}: ${from} → ${to}\n`);
process.stdout.write(`${summary.totalCruised} modules, ${summary.violations.length} broken import rules\n`);
process.exit(summary.violations.length > 0 ? 1 : 0);
