"use client";

import type { ReactNode } from "react";
import { BUTTON_LOOK } from "@/ui/base/parts";

/** A button that lets files be chosen; the same ones may be chosen twice. */
export function FileButton({
  many = false,
  onFiles,
  children,
}: {
  readonly many?: boolean;
  readonly onFiles: (files: readonly File[]) => void;
  readonly children: ReactNode;
}) {
  return (
    <label className={`${BUTTON_LOOK.plain} focus-within:outline-2`}>
      {children}
      <input
        type="file"
        multiple={many}
        className="sr-only"
        onChange={(event) => {
          onFiles([...(event.target.files ?? [])]);
          event.target.value = "";
        }}
      />
    </label>
  );
}
