export type { JobData, StepId } from "./actions";
export { REST_S } from "./actions/rest";
export type { Facts } from "./fact";
export {
  althoughOf,
  byModel,
  insteadOf,
  ownPlanOf,
  scopeOf,
  sourceOf,
  type Goal,
  type Instead,
  type Sources,
} from "./goals";
export * from "./journal";
export { lackSentence } from "./lack";
export { leftOnBoard } from "./left";
export * from "./live";
export * from "./plan-job";
export * from "./state";
export { planOfGoal, sourceIds } from "./plan-of";
export { hindranceAhead, worldOf } from "./world";
