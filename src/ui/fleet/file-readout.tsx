"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { DropZone } from "@/ui/base/drop-zone";
import { FileButton } from "@/ui/base/file-button";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { TextBox } from "@/ui/base/text-box";

/** Takes a read-out as a file, dropped or chosen, or as pasted text, and files it with an aircraft. */
export function FileReadout({ tag }: { readonly tag: string }) {
  const router = useRouter();
  const [text, setText] = useState("");
  const { ask, busy, problem } = useAsk();
  const file = async (body: Blob) => {
    const filed = await ask<{ id: number }>(`/api/backups?tag=${encodeURIComponent(tag)}`, body);
    if (filed) router.push(`/backups/${filed.id}`);
  };
  const fileFirst = ([first]: readonly File[]) => {
    if (first) void file(first);
  };
  return (
    <DropZone id="file" onFiles={fileFirst}>
      <h2>File a read-out</h2>
      <p className="text-sm text-faded">
        Drop a text file here, choose one, or paste what a console printed. It is judged before it is filed, and kept as
        it came.
      </p>
      <TextBox
        aria-label="What the console printed"
        value={text}
        onChange={(event) => setText(event.target.value)}
        rows={3}
        className="key"
      />
      {problem && <ProblemNote problem={problem} />}
      <div className="flex flex-wrap gap-2">
        <Press busy={busy} disabled={text.trim() === ""} onClick={() => void file(new Blob([text]))}>
          File this text
        </Press>
        <FileButton onFiles={fileFirst}>Choose a file</FileButton>
      </div>
    </DropZone>
  );
}
