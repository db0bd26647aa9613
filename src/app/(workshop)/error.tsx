"use client";

import { Press } from "@/ui/base/press";

export default function PageError({ reset }: { readonly error: Error; readonly reset: () => void }) {
  return (
    <div className="mx-auto mt-16 max-w-md" role="alert">
      <h1>This page could not be made.</h1>
      <p className="mt-2 mb-4">
        The database may be away for a moment. Running jobs are not touched by this: the bench works on without the
        pages.
      </p>
      <Press look="main" onClick={reset}>
        Try again
      </Press>
    </div>
  );
}
