import { run } from "./command-line.ts";

process.exitCode = run(process.argv.slice(2), { out: (text) => process.stdout.write(text), err: (text) => process.stderr.write(text) });
