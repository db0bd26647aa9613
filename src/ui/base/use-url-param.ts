"use client";

import { useRouter, useSearchParams } from "next/navigation";
import { useOptimistic, useTransition } from "react";

/**
 * A choice that stands in the URL. What is chosen shows at once; the view follows when the server has answered, and
 * begins with its first page again.
 */
export function useUrlParam(
  name: string,
  value: string,
): { readonly shown: string; readonly pending: boolean; readonly choose: (next: string, shown?: string) => void } {
  const router = useRouter();
  const params = useSearchParams();
  const [pending, start] = useTransition();
  const [shown, setShown] = useOptimistic(value);
  const choose = (next: string, as = next) => {
    start(() => {
      setShown(as);
      const query = new URLSearchParams(params);
      query.delete("page");
      if (next === "") query.delete(name);
      else query.set(name, next);
      router.push(`?${query.toString()}`, { scroll: false });
    });
  };
  return { shown, pending, choose };
}
