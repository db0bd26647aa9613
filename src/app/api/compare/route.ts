import { object, string } from "yup";
import { compareTwo } from "@/core/compare";
import { valueOf } from "@/core/problem";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { sideOf } from "@/server/repositories/sides";
import { comparisonCsv, comparisonText } from "@/server/web/compare-export";
import { compareParts } from "@/server/web/compare-parts";
import { download } from "@/server/web/download";
import { handleGet } from "@/server/web/handle";

const shape = object({
  left: string().max(120).required(),
  right: string().max(120).required(),
  profiles: string().oneOf(["number", "likeness"] as const),
  form: string()
    .oneOf(["csv", "text"] as const)
    .required(),
});
const FORMS = {
  csv: { type: "text/csv; charset=utf-8", ending: "csv" },
  text: { type: "text/plain; charset=utf-8", ending: "txt" },
} as const;

/** A comparison of two configurations as CSV or plain text. */
export const GET = (request: Request): Promise<Response> =>
  handleGet("observer", async () => {
    const asked = await shape.validate(Object.fromEntries(new URL(request.url).searchParams));
    const [left, right] = [await sideOf(asked.left), await sideOf(asked.right)];
    const comparison = valueOf(
      compareTwo(left, right, await loadCatalogue(), { profiles: asked.profiles ?? "number" }),
    );
    const parts = await compareParts(left, right);
    const { type, ending } = FORMS[asked.form];
    const [mine, theirs] = [left.title, right.title];
    return download(
      `${mine} against ${theirs}.${ending}`,
      type,
      asked.form === "csv" ? comparisonCsv(comparison, parts) : comparisonText(comparison, parts, mine, theirs),
    );
  });
