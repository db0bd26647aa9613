export { INVARIANTS, type Action, type JobMove, type Wish } from "./action";
export { ACTIONS, type JobData, type StepId } from "./actions";
export type { Facts, FactName } from "./fact";
export { sourceOf, termsOf, type Goal } from "./goals";
export * from "./journal";
export * from "./live";
export * from "./plan-job";
export * from "./state";
export { hindranceOf, worldOf, type World } from "./world";
