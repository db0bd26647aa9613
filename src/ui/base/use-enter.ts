"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import type { Problem } from "@/core/problem";
import type { Toll } from "@/core/toll";
import { send } from "@/ui/base/ask";
import { payBeside } from "@/ui/base/toll";

/** The work is asked for anew when somebody else failed meanwhile. */
const MOST_TOLLS = 5;

/** Sends what opens the workshop, works for it where that is asked for, and goes in when it did. */
export function useEnter() {
  const router = useRouter();
  const [problem, setProblem] = useState<Problem>();
  const [works, setWorks] = useState(false);
  const enter = async (path: string, values: object) => {
    setProblem(undefined);
    let answer = await send(path, values);
    for (let i = 0; i < MOST_TOLLS && !answer.ok && answer.problem.code === "sign-in-toll"; i++) {
      setWorks(true);
      const { toll } = answer.beside as { toll?: Toll };
      const paid = toll && (await payBeside(toll));
      if (paid === undefined) break;
      answer = await send(path, { ...values, paid });
    }
    setWorks(false);
    if (!answer.ok) return setProblem(answer.problem);
    router.push("/");
    router.refresh();
  };
  return { enter, problem, works };
}
