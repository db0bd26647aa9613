"use client";

import { useEffect, useRef, useState } from "react";
import type { Problem } from "@/core/problem";
import { Press } from "@/ui/base/press";
import { ProblemNote } from "@/ui/base/parts";

const LOOK_EVERY_MS = 4_000;
const LIMIT_MS = 8_000;

const UNREACHED: Problem = {
  code: "unreached",
  message: "Fresh Start does not answer",
  hint: "It is started again by itself, if its machine is up",
};

/** What the workshop says of itself: `well`, a problem, or that it was not reached. */
async function lookAround(): Promise<Problem | "well"> {
  try {
    const answer = await fetch("/api/health", { cache: "no-store", signal: AbortSignal.timeout(LIMIT_MS) });
    if (answer.ok) return "well";
    return ((await answer.json()) as { problem?: Problem }).problem ?? UNREACHED;
  } catch {
    return UNREACHED;
  }
}

/** In the place of a page that could not be made: what is wrong, looked at again and again; once all is well the page is made. */
export function PageTrouble({ again }: { readonly again: () => void }) {
  const [found, setFound] = useState<Problem | "well">();
  const wasIll = useRef(false);
  useEffect(() => {
    let over = false;
    let timer: ReturnType<typeof setTimeout>;
    const look = async () => {
      const now = await lookAround();
      if (over) return;
      setFound(now);
      // a page that fails though all is well is not tried again and again
      if (now === "well" && wasIll.current) again();
      wasIll.current = now !== "well";
      timer = setTimeout(() => void look(), LOOK_EVERY_MS);
    };
    void look();
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [again]);
  return (
    <div className="mx-auto mt-16 max-w-md px-6" role="alert">
      <h1>This page could not be made.</h1>
      <div className="mt-2 mb-4 grid gap-2">
        {found !== undefined && found !== "well" && <ProblemNote problem={found} />}
        <p>
          {found === "well"
            ? "The workshop is up; it is this page that failed. The log of the web tells why."
            : "It is made as soon as it can be."}{" "}
          Running jobs are not touched by this: the bench works on without the pages.
        </p>
      </div>
      <Press look="main" onClick={again}>
        Try again
      </Press>
    </div>
  );
}
