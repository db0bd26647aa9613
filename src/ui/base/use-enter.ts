"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import type { Problem } from "@/core/problem";
import { send } from "@/ui/base/ask";

/** Sends what opens the workshop, and goes in when it did. */
export function useEnter() {
  const router = useRouter();
  const [problem, setProblem] = useState<Problem>();
  const enter = async (path: string, values: object) => {
    const answer = await send(path, values);
    if (!answer.ok) return setProblem(answer.problem);
    router.push("/");
    router.refresh();
  };
  return { enter, problem };
}
