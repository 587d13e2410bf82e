import { expose } from "comlink";
import { Sounds } from "./sounds.ts";

expose(new Sounds());
