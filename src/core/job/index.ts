export type { JobData, StepId } from "./actions";
export type { Facts } from "./fact";
export { sourceOf, type Goal } from "./goals";
export * from "./journal";
export * from "./live";
export * from "./plan-job";
export * from "./state";
export { hindranceOf, worldOf } from "./world";
