"use client";

import { useRouter } from "next/navigation";
import { startTransition, useCallback } from "react";
import { PageTrouble } from "@/ui/base/page-trouble";

export default function PageError({ reset }: { readonly error: Error; readonly reset: () => void }) {
  const router = useRouter();
  const again = useCallback(
    () =>
      startTransition(() => {
        router.refresh();
        reset();
      }),
    [router, reset],
  );
  return <PageTrouble again={again} />;
}
