import { type Mark } from "@/core/job";
import { inWords } from "@/ui/base/words";

/** An aircraft as the register shows it: plain data, times in ms since 1970. */
export interface RegisterEntry {
  readonly tag: string;
  readonly label: string;
  readonly type: string;
  readonly state: "in-service" | "out-of-service" | "on-bench";
  readonly reason: string;
  readonly model: string;
  readonly target: string;
  readonly firmware: string;
  readonly completeAt: number | null;
  readonly lastVerdict: string | null;
  readonly job: { readonly id: number; readonly headline: string } | null;
}

/** A complete backup older than this needs a look. */
const OLD_BACKUP_MS = 30 * 86_400_000;

export interface Standing {
  readonly mark: Mark;
  readonly say: string;
}

/** The state of an aircraft in one line, the worst first. */
export function standingOf(entry: RegisterEntry, now: number): Standing {
  if (entry.state === "on-bench") return { mark: "half", say: `On the bench: ${entry.job?.headline ?? entry.reason}` };
  if (entry.state === "out-of-service")
    return { mark: "no", say: `Out of service${entry.reason ? `: ${entry.reason}` : ""}` };
  if (entry.completeAt === null)
    return {
      mark: "look",
      say: `In service, no complete backup${entry.lastVerdict === "moved-only" ? ": its read-out holds moved values only" : ""}`,
    };
  if (now - entry.completeAt > OLD_BACKUP_MS) return { mark: "look", say: "In service, its backup is old" };
  return { mark: "ok", say: "In service" };
}

export interface Attention {
  readonly tag: string;
  readonly mark: Mark;
  readonly title: string;
  readonly say: string;
  readonly todo: string;
  readonly href: string;
}

const ORDER: readonly Mark[] = ["no", "call", "half", "look"];

/** What needs attention first, with the next sensible thing to do. */
export function attentionOf(entries: readonly RegisterEntry[], now: number): Attention[] {
  const found = entries.flatMap((entry): Attention[] => {
    const { mark } = standingOf(entry, now);
    const about = { tag: entry.tag, mark };
    if (entry.job)
      return [
        {
          ...about,
          title: `${entry.tag} is on the bench`,
          say: `${entry.job.headline}.`,
          todo: "Open its card",
          href: `/jobs/${entry.job.id}`,
        },
      ];
    const href = `/aircraft/${entry.tag}`;
    if (entry.state === "out-of-service")
      return [
        { ...about, title: `${entry.tag} stays on the ground`, say: `${entry.reason}.`, todo: "Look at it", href },
      ];
    if (entry.completeAt === null)
      return [
        {
          ...about,
          title: `${entry.tag} could not be restored today`,
          say: "No complete read-out of it is on file. Two minutes on the bench make it whole.",
          todo: "See what is there",
          href,
        },
      ];
    if (mark === "look")
      return [
        {
          ...about,
          title: `The backup of ${entry.tag} is old`,
          say: `It is ${Math.round((now - entry.completeAt) / 86_400_000)} days old; what was changed since would be lost.`,
          todo: "See its backups",
          href,
        },
      ];
    return [];
  });
  return found.toSorted((a, b) => ORDER.indexOf(a.mark) - ORDER.indexOf(b.mark));
}

/** “Eight aircraft. One out of service, two need a look.” */
export function fleetSentence(entries: readonly RegisterEntry[], now: number): string {
  const marks = entries.map((entry) => standingOf(entry, now).mark);
  const count = (mark: Mark) => marks.filter((m) => m === mark).length;
  const parts = [
    count("half") > 0 ? `${inWords(count("half"))} on the bench` : "",
    count("no") > 0 ? `${inWords(count("no"))} out of service` : "",
    count("look") > 0 ? `${inWords(count("look"))} ${count("look") === 1 ? "needs" : "need"} a look` : "",
  ].filter(Boolean);
  const first = `${inWords(entries.length)} aircraft.`;
  if (parts.length === 0) return `${first} All in service.`;
  const told = parts.map((part, i) => (i === 0 ? part : part.charAt(0).toLowerCase() + part.slice(1))).join(", ");
  return `${first} ${told}.`;
}
