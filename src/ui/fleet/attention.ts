import type { FleetPart } from "@/contracts/answers/parts";
import type { Mark } from "@/core/job";
import { inWords } from "@/ui/base/words";

/** An aircraft as the register shows it: plain data, times in ms since 1970. */
export interface RegisterEntry {
  readonly tag: string;
  readonly label: string;
  readonly type: string;
  readonly state: "in-service" | "out-of-service" | "on-bench";
  readonly reason: string;
  /** The state in one word: what the database makes of state, job and read-outs. */
  readonly standing: "out-of-service" | "on-bench" | "no-backup" | "old-backup" | "in-service";
  readonly model: string;
  readonly target: string;
  readonly firmware: string;
  readonly completeAt: number | null;
  readonly lastVerdict: string | null;
  readonly job: { readonly id: number; readonly headline: string } | null;
}

/** The state of an aircraft in words, for choosing by it. */
export const STANDING_WORDS: Readonly<Record<RegisterEntry["standing"], string>> = {
  "out-of-service": "out of service",
  "on-bench": "on the bench",
  "no-backup": "no complete backup",
  "old-backup": "backup is old",
  "in-service": "in service, in order",
};

const MARKS: Readonly<Record<RegisterEntry["standing"], Mark>> = {
  "out-of-service": "no",
  "on-bench": "half",
  "no-backup": "look",
  "old-backup": "look",
  "in-service": "ok",
};

export interface Standing {
  readonly mark: Mark;
  readonly say: string;
}

/** The state of an aircraft in one line, the worst first. */
export function standingOf(entry: RegisterEntry): Standing {
  const say = {
    "out-of-service": `Out of service${entry.reason ? `: ${entry.reason}` : ""}`,
    "on-bench": `On the bench: ${entry.job?.headline ?? entry.reason}`,
    "no-backup": `In service, no complete backup${entry.lastVerdict === "moved-only" ? ": its read-out holds moved values only" : ""}`,
    "old-backup": "In service, its backup is old",
    "in-service": "In service",
  }[entry.standing];
  return { mark: MARKS[entry.standing], say };
}

export interface Attention {
  readonly tag: string;
  readonly mark: Mark;
  readonly title: string;
  readonly say: string;
  readonly todo: string;
  readonly href: string;
}

/** What to do about an aircraft that needs somebody. */
export function attentionOf(entry: RegisterEntry, now: number): Attention | undefined {
  const about = { tag: entry.tag, mark: MARKS[entry.standing], href: `/aircraft/${entry.tag}` };
  switch (entry.standing) {
    case "on-bench":
      return {
        ...about,
        title: `${entry.tag} is on the bench`,
        say: `${entry.job?.headline ?? entry.reason}.`,
        ...(entry.job ? { todo: "Open its card", href: `/jobs/${entry.job.id}` } : { todo: "Look at it" }),
      };
    case "out-of-service":
      return { ...about, title: `${entry.tag} stays on the ground`, say: `${entry.reason}.`, todo: "Look at it" };
    case "no-backup":
      return {
        ...about,
        title: `${entry.tag} could not be restored today`,
        say: "No complete read-out of it is on file. Two minutes on the bench make it whole.",
        todo: "See what is there",
      };
    case "old-backup":
      return {
        ...about,
        title: `The backup of ${entry.tag} is old`,
        say: `It is ${Math.round((now - (entry.completeAt ?? now)) / 86_400_000)} days old; what was changed since would be lost.`,
        todo: "See its backups",
      };
    case "in-service":
      return undefined;
  }
}

/** Aircraft of which one part is another than its like. */
export function oddAttention(parts: readonly Pick<FleetPart, "tag" | "kind" | "place" | "odd">[]): Attention[] {
  return parts.flatMap(({ tag, kind, place, odd: [first] }) =>
    first === undefined
      ? []
      : [
          {
            tag: `${tag} ${place}`,
            mark: "look" as const,
            title: `One of the ${kind} of ${tag} is the odd one out`,
            say: `${place.charAt(0).toUpperCase()}${place.slice(1)}. ${first}.`,
            todo: "See its parts",
            href: `/aircraft/${tag}`,
          },
        ],
  );
}

/** “Eight aircraft. One out of service, two need a look.” */
export function fleetSentence(total: number, standings: Readonly<Partial<Record<RegisterEntry["standing"], number>>>) {
  const count = (mark: Mark) =>
    Object.entries(standings).reduce(
      (sum, [standing, n]) => sum + (MARKS[standing as RegisterEntry["standing"]] === mark ? n : 0),
      0,
    );
  const parts = [
    count("half") > 0 ? `${inWords(count("half"))} on the bench` : "",
    count("no") > 0 ? `${inWords(count("no"))} out of service` : "",
    count("look") > 0 ? `${inWords(count("look"))} ${count("look") === 1 ? "needs" : "need"} a look` : "",
  ].filter(Boolean);
  const first = `${inWords(total)} aircraft.`;
  if (parts.length === 0) return `${first} All in service.`;
  const counts = parts.map((part, i) => (i === 0 ? part : part.charAt(0).toLowerCase() + part.slice(1))).join(", ");
  return `${first} ${counts}.`;
}
