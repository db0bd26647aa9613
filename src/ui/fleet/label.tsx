"use client";

import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Field } from "@/ui/base/field";

interface LabelProps {
  readonly tag: string;
  readonly label: string;
  readonly type: string;
  readonly editable: boolean;
}

/** What the aircraft does, changed in place. */
export function Label({ tag, label, type, editable }: LabelProps) {
  const [text, setText] = useState<string>();
  const { ask, busy, problem } = useAsk();
  if (text === undefined)
    return (
      <p className="text-faded">
        {type}
        {label === "" ? "" : ` · ${label}`}{" "}
        {editable && (
          <Press
            look="bare"
            className="min-h-6 text-sm text-water underline underline-offset-2"
            onClick={() => setText(label)}
          >
            change
          </Press>
        )}
      </p>
    );
  return (
    <form
      className="mt-1 flex flex-wrap gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void ask(`/api/aircraft/${encodeURIComponent(tag)}`, { label: text }, "PATCH").then(
          (done) => done && setText(undefined),
        );
      }}
    >
      <Field
        label="What it does"
        heard
        look="plain"
        autoFocus
        value={text}
        onChange={(event) => setText(event.target.value)}
        className="w-72 max-w-full"
      />
      <Press submit busy={busy}>
        Keep it
      </Press>
      {problem && <ProblemNote problem={problem} />}
    </form>
  );
}
