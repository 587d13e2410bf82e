import { serve } from "./main.ts";

/* The server as a command; `--demo` fills an empty library with the demo. */

await serve({ demo: process.argv.includes("--demo") });
