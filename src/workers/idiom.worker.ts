import { expose } from "comlink";
import { tryIdiom } from "@/core/learn";

const api = { tryIdiom };
export type IdiomWorker = typeof api;

expose(api);
