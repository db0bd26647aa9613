export { numberedAfter, withoutTime } from "./action";
export { stepOf, type AnyResult, type StepKind, type StepName } from "./actions";
export { REST_S } from "./actions/rest";
export type { Facts } from "./fact";
export * from "./found";
export {
  althoughOf,
  batteriesIn,
  byModel,
  carriedBy,
  detourOf,
  fittedOf,
  insteadOf,
  ownPlanOf,
  goalFrom,
  releaseFor,
  scopeOf,
  sourceOf,
  type Detour,
  type PartSource,
  type Goal,
  type KeptGoal,
  type Instead,
  type Sources,
} from "./goals";
export * from "./journal";
export { lackSentence } from "./lack";
export { isLineOpen, leftOnBoard, lineLeadsTo } from "./left";
export * from "./live";
export * from "./part-plans";
export * from "./plan-job";
export * from "./state";
export { loaderOfPart, partOf, type Part } from "./subject";
export { planFrom, sourceIds, sourcesOf, type PlanOrder } from "./plan-of";
export { hindranceAhead, worldOf } from "./world";
