import { expose } from "comlink";
import { examine, formOfMarks, proposeIdiom, tryIdiom, withForm, withGiven } from "@/core/learn";

const api = { examine, formOfMarks, proposeIdiom, tryIdiom, withForm, withGiven };
export type IdiomWorker = typeof api;

expose(api);
