import { mixed, object, string } from "yup";
import { compareThree, mergeThree, openConflicts, type Take } from "@/core/compare";
import { ProblemError, valueOf } from "@/core/problem";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { fileMerged } from "@/server/repositories/raise-standard";
import { sideOf } from "@/server/repositories/sides";
import { handleJson } from "@/server/web/handle";

const side = () => string().max(120).required();
const shape = object({
  base: side(),
  mine: side(),
  theirs: side(),
  takes: mixed<Record<string, Take>>(
    (value): value is Record<string, Take> =>
      typeof value === "object" &&
      value !== null &&
      Object.entries(value as object).length <= 4000 &&
      Object.entries(value as object).every(
        ([id, take]) => id.length <= 200 && ["base", "mine", "theirs"].includes(take as string),
      ),
  ).required(),
});

/** Files what three configurations make with the decisions taken, as a configuration of the aircraft of mine. */
export async function POST(request: Request): Promise<Response> {
  return handleJson(request, "technician", shape, async (body, account) => {
    const [base, mine, theirs] = [await sideOf(body.base), await sideOf(body.mine), await sideOf(body.theirs)];
    const comparison = valueOf(compareThree(base, mine, theirs, await loadCatalogue()));
    const typical = comparison.items.filter((item) => item.belongsTo === "type");
    const open = openConflicts(typical, body.takes);
    if (open.length > 0)
      throw new ProblemError({
        code: "merge-open",
        message: `${open.length} conflicts are not decided`,
        detail: open
          .slice(0, 6)
          .map((item) => item.title)
          .join("; "),
        hint: "Choose what the result takes of each",
      });
    // what belongs to one board or airframe stays that of mine
    const personal = comparison.items.filter((item) => item.belongsTo !== "type");
    const takes: Record<string, Take> = {
      ...body.takes,
      ...Object.fromEntries(personal.map((item) => [item.id, "mine"])),
    };
    const merged = { ...mergeThree(comparison, takes), identity: mine.configuration.identity };
    const tag = mine.tag ?? mine.title.slice(0, 40);
    const { part } = mine;
    return {
      id: await fileMerged(merged, mine.release, {
        tag: `${tag} merged`,
        aircraftId: mine.aircraftId,
        account: account.name,
        ...(part === null ? {} : { part: { name: part, place: mine.place } }),
      }),
    };
  });
}
