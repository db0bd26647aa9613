"use client";

import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { FIELD_LOOK, ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";

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
      <textarea
        aria-label="A note"
        rows={2}
        maxLength={4000}
        value={text}
        onChange={(event) => setText(event.target.value)}
        className={`${FIELD_LOOK.wide} text-sm`}
      />
      <div className="flex flex-wrap items-center gap-2 text-sm">
        <select
          aria-label="Kind of note"
          value={kind}
          onChange={(event) => setKind(event.target.value as "note" | "wiring")}
          className={FIELD_LOOK.plain}
        >
          <option value="note">Note</option>
          <option value="wiring">Wiring: jumpers, pads, radio</option>
        </select>
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
