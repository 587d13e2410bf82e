import { describe } from "vitest";
import { accessIn } from "./access.ts";

describe("WCAG 2.2 AA by axe, stand theme: finds nothing on", () => accessIn("stand"));
