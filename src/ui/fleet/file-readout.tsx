"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { BUTTON_LOOK, ProblemNote } from "@/ui/base/parts";

/** Takes a read-out as a file, dropped or chosen, or as pasted text, and files it with an aircraft. */
export function FileReadout({ tag }: { readonly tag: string }) {
  const router = useRouter();
  const [text, setText] = useState("");
  const [over, setOver] = useState(false);
  const { ask, busy, problem } = useAsk();
  const file = async (body: Blob) => {
    const filed = await ask<{ id: number }>(`/api/backups?tag=${encodeURIComponent(tag)}`, body);
    if (filed) router.push(`/backups/${filed.id}`);
  };
  return (
    <div
      id="file"
      className={`border border-dashed p-4 ${over ? "border-water bg-water-wash" : "border-edge bg-sheet"}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        const [dropped] = event.dataTransfer.files;
        if (dropped) void file(dropped);
      }}
    >
      <h2>File a read-out</h2>
      <p className="mt-1 mb-2 text-sm text-faded">
        Drop a text file here, choose one, or paste what a console printed. It is judged before it is filed, and kept as
        it came.
      </p>
      <textarea
        aria-label="What the console printed"
        value={text}
        onChange={(event) => setText(event.target.value)}
        rows={3}
        className="mb-2 block w-full rounded-base border border-edge bg-paper px-2.5 py-1.5 key"
      />
      {problem && <ProblemNote problem={problem} />}
      <div className="mt-2 flex flex-wrap gap-2">
        <button
          type="button"
          className={`${BUTTON_LOOK.plain} disabled:opacity-50`}
          disabled={busy || text.trim() === ""}
          onClick={() => void file(new Blob([text]))}
        >
          File this text
        </button>
        <label className={`${BUTTON_LOOK.plain} focus-within:outline-2`}>
          Choose a file
          <input
            type="file"
            className="sr-only"
            onChange={(event) => {
              const [chosen] = event.target.files ?? [];
              if (chosen) void file(chosen);
            }}
          />
        </label>
      </div>
    </div>
  );
}
