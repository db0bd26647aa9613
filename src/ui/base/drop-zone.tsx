"use client";

import { useState, type ReactNode } from "react";

/** A place on a page that takes files: dropped onto it, or chosen by the button that `children` hold. */
export function DropZone({
  id,
  onFiles,
  children,
}: {
  readonly id?: string;
  readonly onFiles: (files: readonly File[]) => void;
  readonly children: ReactNode;
}) {
  const [over, setOver] = useState(false);
  return (
    <div
      {...(id === undefined ? {} : { id })}
      className={`grid gap-2 border border-dashed p-4 ${over ? "border-water bg-water-wash" : "border-edge bg-sheet"}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        onFiles([...event.dataTransfer.files]);
      }}
    >
      {children}
    </div>
  );
}
