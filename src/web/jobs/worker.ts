import { expose } from "comlink";
import { JOBS } from "./jobs.ts";

expose(JOBS);
