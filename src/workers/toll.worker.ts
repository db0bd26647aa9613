import { expose } from "comlink";
import { payToll } from "@/core/toll";

const api = { payToll };
export type TollWorker = typeof api;

expose(api);
