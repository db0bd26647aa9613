export interface ModelChoice {
  readonly id: string;
  readonly title: string;
  readonly printed: string;
  readonly target: string;
  readonly processor: string;
  readonly revision: string;
  readonly smallPrint?: string;
  /** As `0x1209:0x0020`. */
  readonly usb: string;
}

/** Models that are told apart by more than the name that is printed on them, by what to look for. */
export const modelText = ({ title, printed, revision, smallPrint }: ModelChoice): string =>
  `${title}: printed “${printed}”, revision ${revision}${smallPrint === undefined ? "" : `, small print “${smallPrint}”`}`;

/**
 * Which models a board may be: those that its own name fits; else those that its target is for; else all. Of those that
 * the name fits, one that the target fits as well is more likely. What bears its USB identity stands first.
 */
export function modelsLike(
  models: readonly ModelChoice[],
  boardName: string | undefined,
  target: string | undefined,
  processor?: string,
  usb?: string,
): readonly ModelChoice[] {
  const first = (all: readonly ModelChoice[]) => all.toSorted((a, b) => Number(b.usb === usb) - Number(a.usb === usb));
  if (processor !== undefined && boardName === undefined && target === undefined)
    return first(models.filter((model) => model.processor === processor));
  const named = models.filter((model) => model.title === boardName || model.printed === boardName);
  const both = named.filter((model) => model.target === target);
  if (both.length > 0) return first(both);
  if (named.length > 0) return first(named);
  const built = models.filter((model) => model.target === target);
  return first(built.length > 0 ? built : models);
}
