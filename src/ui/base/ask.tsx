"use client";

import { useRouter } from "next/navigation";
import { useState, useTransition, type ReactNode } from "react";
import type { BodyFor } from "@/contracts/asks";
import type { Problem } from "@/core/problem";
import { ProblemNote, type ButtonLook } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";

export type Answer<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly problem: Problem; readonly beside?: unknown };

const UNREACHED: Problem = {
  code: "unreached",
  message: "The server was not reached",
  hint: "It may still have been done: look before you repeat it",
};
const LIMIT_MS = 30_000;

/** Sends a change to the server and gives what came of it; a wait has its limit. */
export async function send<T = unknown, P extends string = string>(
  path: P,
  body: BodyFor<P>,
  method = "POST",
): Promise<Answer<T>> {
  const raw = body instanceof Blob;
  try {
    const response = await fetch(path, {
      method,
      ...(method === "GET"
        ? {}
        : raw
          ? { body }
          : { body: JSON.stringify(body), headers: { "Content-Type": "application/json" } }),
      signal: AbortSignal.timeout(LIMIT_MS),
    });
    const json = (await response.json()) as { problem?: Problem };
    return response.ok
      ? { ok: true, value: json as T }
      : { ok: false, problem: json.problem ?? UNREACHED, beside: json };
  } catch {
    return { ok: false, problem: UNREACHED };
  }
}

/** What the bench has not brought to an end yet. */
const PENDING: Readonly<Partial<Record<string, string>>> = {
  taken: "The bench is doing it.",
  waiting: "Waiting for the bench; it will be done as soon as it does.",
};

/**
 * One change at a time, with its problem if it was refused, and what is still under way. It is busy until the page shows
 * what came of it: nothing offers itself for a second press meanwhile.
 */
export function useAsk() {
  const router = useRouter();
  const [asking, setAsking] = useState(false);
  const [showing, startShowing] = useTransition();
  const [problem, setProblem] = useState<Problem>();
  const [pending, setPending] = useState<string>();
  const ask = async <T, P extends string = string>(
    path: P,
    body: BodyFor<P>,
    method?: string,
  ): Promise<T | undefined> => {
    setAsking(true);
    setProblem(undefined);
    setPending(undefined);
    const answer = await send<T, P>(path, body, method);
    setAsking(false);
    if (!answer.ok) {
      setProblem(answer.problem);
      return undefined;
    }
    setPending(PENDING[(answer.value as { state?: string } | null)?.state ?? ""]);
    startShowing(() => router.refresh());
    return answer.value;
  };
  return { ask, busy: asking || showing, problem, pending, clear: () => setProblem(undefined) };
}

interface AskButtonProps<P extends string> {
  readonly path: P;
  readonly body: BodyFor<P>;
  readonly look?: ButtonLook | "bare";
  readonly children: ReactNode;
  readonly disabled?: boolean;
  readonly pressed?: boolean;
  /** Its name, where what stands on it says it only beside others. */
  readonly label?: string;
  readonly className?: string;
}

/** A button that asks the server for one thing; a refusal is shown under it. */
export function AskButton<P extends string>({
  path,
  body,
  look = "plain",
  children,
  disabled = false,
  pressed,
  label,
  className = "",
}: AskButtonProps<P>) {
  const { ask, busy, problem, pending } = useAsk();
  return (
    <span className="inline-flex flex-col gap-2">
      <Press
        look={look}
        className={className}
        busy={busy}
        disabled={disabled}
        {...(label === undefined ? {} : { "aria-label": label })}
        {...(pressed === undefined ? {} : { "aria-pressed": pressed })}
        onClick={() => void ask(path, body)}
      >
        {children}
      </Press>
      {pending !== undefined && (
        <span role="status" className="text-sm text-faded">
          {pending}
        </span>
      )}
      {problem && <ProblemNote problem={problem} />}
    </span>
  );
}
