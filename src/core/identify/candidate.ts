import type { BoardModel, Catalogue, Release, ReleaseTarget } from "@/core/catalog";

/** A board that may stand before you: a model of the catalogue, or a target that no model is described for. */
export interface Candidate {
  readonly id: string;
  readonly title: string;
  /** The name by which the newest release knows its target. */
  readonly target: string;
  /** All names that its target had or has, in whichever release. */
  readonly names: readonly string[];
  readonly processor: string;
  readonly gyros: readonly string[];
  /** How many ports its releases serve at most; absent where no release knows its target. */
  readonly ports?: number;
  readonly model?: BoardModel;
}

/** One board as the releases know it: every name it ever had, and what each release says of it, oldest first. */
export interface TargetLine {
  readonly name: string;
  readonly names: readonly string[];
  readonly builds: readonly { readonly release: Release; readonly target: ReleaseTarget }[];
}

const byAge = (a: Release, b: Release) =>
  a.builtOn < b.builtOn ? -1 : a.builtOn > b.builtOn ? 1 : a.id < b.id ? -1 : 1;

const lines = new WeakMap<Catalogue, readonly TargetLine[]>();

/** Targets followed through their aliases over all releases: names that ever met in one release are one target. */
export function targetLines(catalogue: Catalogue): readonly TargetLine[] {
  const known = lines.get(catalogue);
  if (known) return known;
  const builds = [...catalogue.releases.values()]
    .toSorted(byAge)
    .flatMap((release) => release.targets.map((target) => ({ release, target })));
  const joined = new Map<string, Set<string>>();
  for (const { target } of builds) {
    const met = [target.id, ...target.aliases].map((name) => joined.get(name) ?? new Set([name]));
    const all = new Set(met.flatMap((names) => [...names]));
    for (const name of all) joined.set(name, all);
  }
  const made = [...new Set(joined.values())].map((names): TargetLine => {
    const own = builds.filter(({ target }) => names.has(target.id));
    return { name: own.at(-1)?.target.id ?? [...names][0] ?? "", names: [...names], builds: own };
  });
  lines.set(catalogue, made);
  return made;
}

/** The target line that bears a name. */
export const targetLine = (catalogue: Catalogue, name: string): TargetLine | undefined =>
  targetLines(catalogue).find(({ names }) => names.includes(name));

/** The target of that name as the newest release has it that builds it. */
export const newestBuildOf = (catalogue: Catalogue, name: string): TargetLine["builds"][number] | undefined =>
  targetLine(catalogue, name)?.builds.at(-1);

const factsOf = (line: TargetLine | undefined) => ({
  gyros: [...new Set((line?.builds ?? []).map(({ target }) => target.gyro))],
  ...(line ? { ports: Math.max(0, ...line.builds.map(({ target }) => target.ports.length)) } : {}),
});

/** Every board that the catalogue can tell of: its models, then targets that no model takes. */
export function candidatesOf(catalogue: Catalogue): Candidate[] {
  const models = [...catalogue.models.values()].map((model): Candidate => {
    const line = targetLine(catalogue, model.target);
    return {
      id: model.id,
      title: model.title,
      target: line?.name ?? model.target,
      names: line?.names ?? [model.target],
      processor: model.processor,
      model,
      ...factsOf(line),
    };
  });
  const taken = new Set(models.flatMap(({ names }) => names));
  const bare = targetLines(catalogue)
    .filter(({ names }) => !names.some((name) => taken.has(name)))
    .map((line): Candidate => ({
      id: `target ${line.name}`,
      title: `A board that takes ${line.name}`,
      target: line.name,
      names: line.names,
      processor: line.builds.at(-1)?.target.processor ?? "",
      ...factsOf(line),
    }));
  return [...models, ...bare];
}
