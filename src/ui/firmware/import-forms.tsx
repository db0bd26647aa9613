"use client";

import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { BUTTON_LOOK, ProblemNote, Sheet } from "@/ui/base/parts";

interface Target {
  readonly id: string;
  readonly title: string;
  readonly targets: readonly string[];
}

const PICK =
  "block w-full text-sm file:mr-3 file:min-h-8 file:rounded-base file:border file:border-edge file:bg-sheet file:px-3 file:text-sm file:text-ink";

/** Documents and images come in here; each is judged before anything is kept. */
export function ImportForms({
  mayImport,
  releases,
}: {
  readonly mayImport: boolean;
  readonly releases: readonly Target[];
}) {
  if (!mayImport)
    return (
      <Sheet className="px-4 py-3.5" label="Import">
        <h2>Import</h2>
        <p className="mt-1 text-sm">The lead technician imports documents and images.</p>
      </Sheet>
    );
  return (
    <div id="import" className="grid gap-4">
      <ImportDocument />
      <ImportImage releases={releases} />
    </div>
  );
}

function ImportDocument() {
  const { ask, problem } = useAsk();
  const [done, setDone] = useState<string>();
  return (
    <Sheet className="px-4 py-3.5" label="Import a document">
      <h2>Import a document</h2>
      <p className="mt-1 mb-2 text-sm text-faded">
        A release, board model, processor or idiom, as YAML or JSON. An earlier version is kept.
      </p>
      <input
        type="file"
        aria-label="Document"
        className={PICK}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          setDone(undefined);
          if (file)
            void ask<{ id: string; version: number; unchanged: boolean }>("/api/documents", file).then((made) => {
              if (made)
                setDone(
                  made.unchanged
                    ? `${made.id} is here already, unchanged.`
                    : `${made.id} is in, as version ${made.version}.`,
                );
            });
        }}
      />
      {done !== undefined && (
        <p role="status" className="mt-2 text-sm font-semibold text-reed">
          {done}
        </p>
      )}
      {problem && (
        <div className="mt-2">
          <ProblemNote problem={problem} />
        </div>
      )}
    </Sheet>
  );
}

function ImportImage({ releases }: { readonly releases: readonly Target[] }) {
  const { ask, problem } = useAsk();
  const [release, setRelease] = useState(releases[0]?.id ?? "");
  const targets = releases.find((r) => r.id === release)?.targets ?? [];
  const [target, setTarget] = useState(targets[0] ?? "");
  const [done, setDone] = useState<string>();
  return (
    <Sheet className="px-4 py-3.5" label="Import an image">
      <h2>Import an image</h2>
      <p className="mt-1 mb-2 text-sm text-faded">
        Intel HEX or raw bytes. It must be whole, and say of itself what it is taken for.
      </p>
      <div className="mb-2 flex gap-2">
        <select
          aria-label="Release"
          className={BUTTON_LOOK.plain}
          value={release}
          onChange={(event) => setRelease(event.target.value)}
        >
          {releases.map((r) => (
            <option key={r.id} value={r.id}>
              {r.title}
            </option>
          ))}
        </select>
        <select
          aria-label="Target"
          className={BUTTON_LOOK.plain}
          value={target}
          onChange={(event) => setTarget(event.target.value)}
        >
          {targets.map((t) => (
            <option key={t}>{t}</option>
          ))}
        </select>
      </div>
      <input
        type="file"
        aria-label="Image"
        className={PICK}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          setDone(undefined);
          if (file)
            void ask<{ length_bytes: number }>(
              `/api/images?release=${encodeURIComponent(release)}&target=${encodeURIComponent(target)}`,
              file,
            ).then((made) => {
              if (made) setDone(`The image is in: ${Math.round(made.length_bytes / 1024)} KB.`);
            });
        }}
      />
      {done !== undefined && (
        <p role="status" className="mt-2 text-sm font-semibold text-reed">
          {done}
        </p>
      )}
      {problem && (
        <div className="mt-2">
          <ProblemNote problem={problem} />
        </div>
      )}
    </Sheet>
  );
}
