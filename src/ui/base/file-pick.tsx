"use client";

/** Where a file is chosen; the last chosen one's name stands beside it. */
export function FilePick({ label, onFile }: { readonly label: string; readonly onFile: (file: File) => void }) {
  return (
    <input
      type="file"
      aria-label={label}
      className="block w-full text-sm file:mr-3 file:min-h-8 file:rounded-base file:border file:border-edge file:bg-sheet file:px-3 file:text-ink"
      onChange={(event) => {
        const file = event.target.files?.[0];
        if (file) onFile(file);
      }}
    />
  );
}
