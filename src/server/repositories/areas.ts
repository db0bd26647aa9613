import { withAreas } from "@/core/config";
import { ProblemError } from "@/core/problem";
import { loadCatalogue } from "@/server/repositories/catalogue";

/** Refuses areas that neither every workshop has nor a release brings: a misspelt one would be passed over in silence. */
export async function needAreas(names: readonly string[]): Promise<void> {
  const own = [...(await loadCatalogue()).releases.values()].flatMap(({ areas }) => areas.map(({ name }) => name));
  const areas = withAreas(own);
  const odd = names.find((name) => !areas.includes(name));
  if (odd === undefined) return;
  throw new ProblemError({
    code: "area-none",
    message: `There is no area “${odd}”`,
    hint: `There are ${areas.join(", ")}`,
  });
}
