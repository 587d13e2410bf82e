import { type Io, run } from "./command-line.ts";
import { LIBRARY_COMMANDS, runOnLibrary } from "./library-commands.ts";

const io: Io = { out: (text) => process.stdout.write(text), err: (text) => process.stderr.write(text) };
const [name = "", ...args] = process.argv.slice(2);
// Who reads the output may stop reading: that is no fault.
for (const stream of [process.stdout, process.stderr])
  stream.on("error", (error: NodeJS.ErrnoException) => {
    if (error.code !== "EPIPE") throw error;
    process.exit();
  });
process.exitCode = Object.hasOwn(LIBRARY_COMMANDS, name) ? await runOnLibrary(name, args, io) : run(process.argv.slice(2), io);
