"use client";

import { useState } from "react";
import { CodeEditor } from "@/ui/base/code-editor";
import { AdoptionNotes, useAdoption } from "@/ui/firmware/adopt";
import { Press } from "@/ui/base/press";

interface DocumentEditorProps {
  /** The document as it is kept. */
  readonly kept: string;
  readonly mayImport: boolean;
}

/** A document as text: what is changed in it becomes its next version, after what is on file was read again with it. */
export function DocumentEditor({ kept, mayImport }: DocumentEditorProps) {
  const [text, setText] = useState(kept);
  const adoption = useAdoption();
  const changed = text !== kept;
  const { where, message } = adoption.problem ?? {};
  const marked = where?.line === undefined ? [] : [{ line: where.line, says: message ?? "" }];
  const write = (next: string) => {
    setText(next);
    adoption.leave();
  };
  return (
    <div className="grid gap-3">
      <CodeEditor label="Document" language="yaml" rows={26} value={text} onChange={write} marked={marked} />
      {mayImport ? (
        <div className="flex flex-wrap items-center gap-2">
          <Press busy={adoption.busy} disabled={!changed} onClick={() => void adoption.look(new Blob([text]))}>
            What would read differently
          </Press>
          <Press
            look="main"
            busy={adoption.busy}
            disabled={!changed}
            onClick={() => void adoption.adopt(new Blob([text]))}
          >
            Save as the next version
          </Press>
          <Press busy={adoption.busy} disabled={!changed} onClick={() => write(kept)}>
            As it is kept
          </Press>
        </div>
      ) : (
        <p className="text-sm text-faded">The lead technician changes documents.</p>
      )}
      <AdoptionNotes adoption={adoption} />
    </div>
  );
}
