import { partAction, type Wish } from "@/core/job/action";
import { loaderOfPart, type Part } from "@/core/job/subject";
import { YES, factsOf } from "@/core/job/fact";

/** The part that runs another release for a while. */
export const whereDetour = (wish: Wish): Part[] => (wish.parts.main?.detour ? ["main"] : []);
const NONE = { id: "", title: "" };
export const detourWished = ({ parts }: Wish) => parts.main?.detour ?? NONE;

export const flashDetour = partAction(
  "flash-detour",
  (wish, part) => {
    const { id, title } = detourWished(wish);
    const loader = loaderOfPart(part);
    return {
      title: `Write ${title} in between`,
      why: "The firmware of this board opens no line to its parts; this one does. Its own comes back when they are done.",
      needs: {
        ...factsOf(part, { shows: "loader", known: YES, "settings kept": YES, "settings rescued": YES, reads: YES }),
        ...(wish.parts[loader] ? factsOf(loader, { seen: YES, serves: YES }) : {}),
      },
      gives: factsOf(part, { holds: id }),
      undoes: [`${part}: shows`, `${part}: runs`, `${part}: settings restored`, `${part}: settings proved`],
      costS: 20,
      risk: 0.01,
      hands: 1,
      destroys: [{ of: part, what: "firmware" }],
      restarts: true,
      writes: true,
      leaves: {
        begun: "a firmware that is half written: it does not start",
        done: `${title}, which was written for its parts alone, on its defaults: its own firmware and its settings are on file and are not on it`,
      },
    };
  },
  undefined,
  { subjects: whereDetour },
);
