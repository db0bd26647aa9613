export type { JobData, StepId } from "./actions";
export type { Facts } from "./fact";
export { byModel, insteadOf, sourceOf, type Goal, type Instead, type Sources } from "./goals";
export * from "./journal";
export * from "./live";
export * from "./plan-job";
export * from "./state";
export { planOfGoal, sourceIds } from "./plan-of";
export { hindranceAhead, worldOf } from "./world";
