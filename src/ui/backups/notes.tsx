"use client";

import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { TextBox } from "@/ui/base/text-box";

const KINDS = [
  { value: "note", text: "Note" },
  { value: "wiring", text: "Wiring: jumpers, pads, radio" },
] as const;

/** Adds what no read-out can say: jumpers, pads, how the radio is set up. */
export function AddNote({ backupId }: { readonly backupId: number }) {
  const [text, setText] = useState("");
  const [kind, setKind] = useState<"note" | "wiring">("note");
  const { ask, busy, problem } = useAsk();
  return (
    <form
      className="mt-2 grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void ask(`/api/backups/${backupId}/notes`, { kind, text }).then((made) => {
          if (made !== undefined) setText("");
        });
      }}
    >
      <TextBox
        aria-label="A note"
        rows={2}
        maxLength={4000}
        value={text}
        onChange={(event) => setText(event.target.value)}
        className="text-sm"
      />
      <div className="flex flex-wrap items-center gap-2 text-sm">
        <Select
          label="Kind of note"
          says="hidden"
          value={kind}
          options={KINDS}
          onValue={(next) => setKind(next === "wiring" ? next : "note")}
        />
        <Press
          submit

          busy={busy}
          disabled={text.trim() === ""}
        >
          Add it
        </Press>
      </div>
      {problem && <ProblemNote problem={problem} />}
    </form>
  );
}
