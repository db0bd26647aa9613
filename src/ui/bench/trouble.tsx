"use client";

import { diagnose, SYMPTOMS, type Seen } from "@/core/diagnose";
import type { BayLive } from "@/core/job/live";
import { useKept } from "@/ui/base/use-kept";
import { certaintyText } from "@/ui/boards/certainty";
import { Press } from "@/ui/base/press";

const SHOWN = 4;

/** What the bench sees by itself, in the words of the symptoms. */
function seenByItself({ presence, restarts, line, gyro, ownTarget, silentPart, tag }: BayLive): Seen {
  const port = line === undefined ? "usb" : line.state;
  if (restarts) return { cable: "flickers", port };
  if (gyro !== undefined)
    return {
      port,
      cable: "console",
      gyro,
      part: silentPart === undefined ? "answers" : "silent",
      ...(tag === undefined ? {} : { model: ownTarget ? "contradicts" : "agrees" }),
    };
  return { port, cable: presence === "console" || presence === "loader" ? presence : "nothing" };
}

/** What cannot be tried with this board. */
function cannotTry({ hands, line }: BayLive): string[] {
  // a port that cannot be listened to tells nothing about a board
  if (line && line.state !== "silent") return ["restart", "swap", "button", "adapter"];
  if (!hands) return [];
  return [
    "restart",
    "swap",
    ...(hands.bootButton || hands.bootPads ? [] : ["button"]),
    ...(hands.serial ? [] : ["adapter"]),
  ];
}

/** A board that is plugged in and does not do what it should: the likeliest causes, and the one thing to try next. */
export function Trouble({ live }: { readonly live: BayLive }) {
  const [told, setTold] = useKept<Seen>(`trouble ${live.simBoardId ?? live.line?.path ?? live.chipId ?? ""}`, {});
  const seen = { ...seenByItself(live), ...told };
  const { causes, next } = diagnose(seen, cannotTry(live));
  const [first] = causes;
  return (
    <div className="grid gap-3">
      {next ? (
        <div className="border border-ink px-3.5 py-3">
          <p className="text-sm text-faded">Best next check, about {Math.max(3, next.effortS)} s:</p>
          <h3 className="mb-2 text-[17px]">{next.ask}</h3>
          {next.id === "marking" && live.looksFor !== undefined && (
            <p className="mb-2 text-sm">The firmware on it looks for an {live.looksFor}.</p>
          )}
          <div className="flex flex-wrap gap-2">
            {Object.entries(next.answers).map(([answer, text]) => (
              <Press key={answer} look="call" onClick={() => setTold({ ...told, [next.id]: answer })}>
                {text}
              </Press>
            ))}
          </div>
        </div>
      ) : (
        <div className="border border-ink px-3.5 py-3">
          <h3 className="text-[17px]">{first?.cause.title}.</h3>
          <ol className="mt-1 grid list-decimal gap-0.5 pl-5 text-sm">
            {first?.cause.remedy.map((step) => (
              <li key={step}>{step}.</li>
            ))}
          </ol>
        </div>
      )}
      <ul aria-label="Likely causes" className="grid">
        {causes.slice(0, SHOWN).map(({ cause, certainty, speaksFor, against }) => (
          <li key={cause.id} className="grid gap-0.5 border-b border-rule py-1.5 text-sm last:border-0">
            <span className="flex items-baseline justify-between gap-3">
              <b>{cause.title}</b>
              <span className="whitespace-nowrap">{certaintyText(certainty)}</span>
            </span>
            <span className="block h-1 bg-rule" aria-hidden="true">
              <span className="block h-full bg-ink" style={{ width: `${Math.round(certainty * 100)}%` }} />
            </span>
            <span className="text-[13px] text-faded">
              {speaksFor.length > 0 && `for it: ${speaksFor.join("; ").toLowerCase()}`}
              {speaksFor.length > 0 && against.length > 0 && " · "}
              {against.length > 0 && `against it: ${against.join("; ").toLowerCase()}`}
              {cause.remedy[0] !== undefined && `. ${cause.remedy[0]}`}
            </span>
          </li>
        ))}
      </ul>
      {Object.keys(told).length > 0 && (
        <p className="text-sm text-faded">
          You answered:{" "}
          {Object.entries(told)
            .map(([id, answer]) => {
              const symptom = SYMPTOMS.find((each) => each.id === id);
              return `${symptom?.title ?? id}: ${symptom?.answers[answer] ?? answer}`;
            })
            .join(" · ")}{" "}
          <Press look="bare" className="min-h-6 cursor-pointer text-water underline" onClick={() => setTold({})}>
            Begin again
          </Press>
        </p>
      )}
    </div>
  );
}
