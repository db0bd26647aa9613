"use client";

import { useRouter } from "next/navigation";
import type { JobRequest } from "@/contracts/job-wish";
import { useAsk } from "@/ui/base/ask";

/** Orders a job, and goes to its card. */
export function useOrder() {
  const router = useRouter();
  const { ask, busy, problem } = useAsk();
  const order = async (request: JobRequest): Promise<void> => {
    const job = await ask<{ id: number }>("/api/jobs", request);
    if (job) router.push(`/jobs/${job.id}`);
  };
  return { order, busy, problem };
}
