export interface ModelChoice {
  readonly id: string;
  readonly title: string;
  readonly printed: string;
  readonly target: string;
  readonly processor: string;
}

/**
 * Which models a board may be: those that its own name fits; else those that its target is for; else all. Of those that
 * the name fits, one that the target fits as well is more likely.
 */
export function modelsLike(
  models: readonly ModelChoice[],
  boardName: string | undefined,
  target: string | undefined,
  processor?: string,
): readonly ModelChoice[] {
  if (processor !== undefined && boardName === undefined && target === undefined)
    return models.filter((model) => model.processor === processor);
  const named = models.filter((model) => model.title === boardName || model.printed === boardName);
  const both = named.filter((model) => model.target === target);
  if (both.length > 0) return both;
  if (named.length > 0) return named;
  const built = models.filter((model) => model.target === target);
  return built.length > 0 ? built : models;
}
