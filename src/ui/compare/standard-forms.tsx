"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { BUTTON_LOOK, ProblemNote } from "@/ui/base/parts";

const FIELD = "mt-1 block min-h-8 w-full rounded-base border border-edge bg-sheet px-2";

/** Makes the newest read-out of an aircraft the next version of its type's standard. */
export function MakeStandard({
  type,
  choices,
}: {
  readonly type: string;
  readonly choices: readonly { readonly tag: string; readonly backupId: number }[];
}) {
  const [open, setOpen] = useState(false);
  const [backupId, setBackupId] = useState(choices[0]?.backupId ?? 0);
  const [note, setNote] = useState("");
  const { ask, busy, problem } = useAsk();
  if (!open)
    return (
      <button type="button" className={BUTTON_LOOK.plain} onClick={() => setOpen(true)} disabled={choices.length === 0}>
        Make a standard from an aircraft
      </button>
    );
  return (
    <form
      className="grid max-w-md gap-2 border border-rule p-3 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        void ask("/api/standards", { type, backupId, note }).then((made) => {
          if (made) setOpen(false);
        });
      }}
    >
      <label>
        As it stands on
        <select
          aria-label="As it stands on"
          className={FIELD}
          value={backupId}
          onChange={(event) => setBackupId(Number(event.target.value))}
        >
          {choices.map((choice) => (
            <option key={choice.tag} value={choice.backupId}>
              {choice.tag}
            </option>
          ))}
        </select>
      </label>
      <label>
        What it is good for
        <input className={FIELD} value={note} maxLength={400} onChange={(event) => setNote(event.target.value)} />
      </label>
      {problem && <ProblemNote problem={problem} />}
      <div className="flex gap-2">
        <button type="submit" disabled={busy} className={BUTTON_LOOK.main}>
          Make it the {type} standard
        </button>
        <button type="button" className={BUTTON_LOOK.plain} onClick={() => setOpen(false)}>
          Not now
        </button>
      </div>
    </form>
  );
}

/** Carries a standard to another release as its next version. */
export function RaiseStandard({
  standardId,
  releases,
}: {
  readonly standardId: number;
  readonly releases: readonly { readonly id: string; readonly title: string }[];
}) {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [releaseId, setReleaseId] = useState(releases[0]?.id ?? "");
  const [silent, setSilent] = useState<"keep" | "take-default">("keep");
  const { ask, busy, problem } = useAsk();
  if (!open)
    return (
      <button type="button" className={BUTTON_LOOK.plain} onClick={() => setOpen(true)}>
        Raise it to another release
      </button>
    );
  return (
    <form
      className="grid max-w-md gap-2 border border-rule p-3 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        void ask("/api/standards/raise", { standardId, releaseId, silent }).then((made) => {
          if (!made) return;
          setOpen(false);
          router.refresh();
        });
      }}
    >
      <label>
        To
        <select
          aria-label="To"
          className={FIELD}
          value={releaseId}
          onChange={(event) => setReleaseId(event.target.value)}
        >
          {releases.map((release) => (
            <option key={release.id} value={release.id}>
              {release.title}
            </option>
          ))}
        </select>
      </label>
      <fieldset>
        <legend>Where nobody set a value and its default moved</legend>
        {(["keep", "take-default"] as const).map((choice) => (
          <label key={choice} className="flex min-h-6 items-center gap-2">
            <input type="radio" name="silent" checked={silent === choice} onChange={() => setSilent(choice)} />
            {choice === "keep" ? "Keep the old numbers" : "Take the new defaults"}
          </label>
        ))}
      </fieldset>
      {problem && <ProblemNote problem={problem} />}
      <div className="flex gap-2">
        <button type="submit" disabled={busy} className={BUTTON_LOOK.main}>
          Raise the standard
        </button>
        <button type="button" className={BUTTON_LOOK.plain} onClick={() => setOpen(false)}>
          Not now
        </button>
      </div>
    </form>
  );
}
