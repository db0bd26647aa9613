"use client";

import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { DisclosedForm } from "@/ui/base/disclosed-form";
import { FIELD_LOOK } from "@/ui/base/parts";

const FIELD = `${FIELD_LOOK.plain} mt-1 block w-full`;

/** Makes the newest read-out of an aircraft the next version of its type's standard. */
export function MakeStandard({
  type,
  choices,
}: {
  readonly type: string;
  readonly choices: readonly { readonly tag: string; readonly backupId: number }[];
}) {
  const [backupId, setBackupId] = useState(choices[0]?.backupId ?? 0);
  const [note, setNote] = useState("");
  const asking = useAsk();
  return (
    <DisclosedForm
      opens="Make a standard from an aircraft"
      does={`Make it the ${type} standard`}
      disabled={choices.length === 0}
      asking={asking}
      onSubmit={() => asking.ask("/api/standards", { type, backupId, note })}
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
    </DisclosedForm>
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
  const [releaseId, setReleaseId] = useState(releases[0]?.id ?? "");
  const [silent, setSilent] = useState<"keep" | "take-default">("keep");
  const asking = useAsk();
  return (
    <DisclosedForm
      opens="Raise it to another release"
      does="Raise the standard"
      asking={asking}
      onSubmit={() => asking.ask("/api/standards/raise", { standardId, releaseId, silent })}
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
    </DisclosedForm>
  );
}
