import { object, string } from "yup";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

/** “”: the loader does as it is. */
const orNone = () => string().max(100);

export const seeLoader = action(
  "see-loader",
  ({ release, loader }) => ({
    title: "See which loader it has",
    why:
      loader?.wants === undefined
        ? "One that is gone or damaged comes back with this visit."
        : `${release.title} wants ${loader.wants}.${loader.why === undefined ? "" : ` ${loader.why}.`}`,
    needs: { "board: shows": "loader", "board: known": YES, "board: target known": YES, "board: reads": YES },
    gives: { "loader: seen": YES },
  }),
  object({ loaderRelease: orNone(), loaderSha: orNone() }),
  ({ loaderRelease }) => (loaderRelease === "" || loaderRelease === undefined ? {} : { "loader: serves": "not" }),
);
