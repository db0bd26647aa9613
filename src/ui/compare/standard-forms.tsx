"use client";

import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { DisclosedForm } from "@/ui/base/disclosed-form";
import { Select } from "@/ui/base/select";
import { Field } from "@/ui/base/field";
import { OneOf } from "@/ui/base/one-of";

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
      <Select
        label="As it stands on"
        look="wide"
        value={String(backupId)}
        options={choices.map((choice) => ({ value: String(choice.backupId), text: choice.tag }))}
        onValue={(next) => setBackupId(Number(next))}
      />
      <Field
        label="What it is good for"
        value={note}
        maxLength={400}
        onChange={(event) => setNote(event.target.value)}
      />
    </DisclosedForm>
  );
}

const SILENT = [
  { value: "keep", says: "Keep the old numbers" },
  { value: "take-default", says: "Take the new defaults" },
] as const;

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
      <Select
        label="To"
        look="wide"
        value={releaseId}
        options={releases.map(({ id, title }) => ({ value: id, text: title }))}
        onValue={setReleaseId}
      />
      <OneOf
        label="Where nobody set a value and its default moved"
        value={silent}
        choices={SILENT}
        onValue={(next) => setSilent(next === "keep" ? next : "take-default")}
      />
    </DisclosedForm>
  );
}
