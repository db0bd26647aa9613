import { object, string } from "yup";
import { loaderAction, releaseWished } from "@/core/job/action";
import { partOf } from "@/core/job/subject";
import { YES, factsOf } from "@/core/job/fact";

/** “”: the loader does as it is. */
const orNone = () => string().max(100);

export const seeLoader = loaderAction(
  "see-loader",
  (wish, loader) => {
    const part = partOf(loader);
    const { wants, why } = wish.parts[loader] ?? {};
    return {
      title: "See which loader it has",
      why:
        wants === undefined
          ? "One that is gone or damaged comes back with this visit."
          : `${releaseWished(wish, part).title} wants ${wants}.${why === undefined ? "" : ` ${why}.`}`,
      needs: {
        ...factsOf(part, { shows: "loader", known: YES, "target known": YES, reads: YES }),
      },
      gives: factsOf(loader, { seen: YES, "image fits": YES }),
    };
  },
  object({ loaderRelease: orNone(), loaderSha: orNone() }),
  {
    finds: ({ loaderRelease = "" }, loader) => (loaderRelease === "" ? {} : factsOf(loader, { serves: "not" })),
  },
);
