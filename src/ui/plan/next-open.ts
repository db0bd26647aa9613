"use client";

import { useCallback, useMemo } from "react";
import { reachRow } from "@/ui/base/long-table";
import { useNext } from "@/ui/base/use-next";
import { rowId, takenChoice, type PlanGroup } from "@/ui/plan/groups";

/**
 * The key N goes to the first way out of the next decision that is open, from wherever the focus stands, round and round;
 * whether its row is drawn or not.
 */
export function useNextOpen(groups: readonly PlanGroup[], decisions: Readonly<Record<string, string>>): void {
  const rows = useMemo(() => groups.flatMap((group) => group.rows), [groups]);
  const next = useCallback(async () => {
    const here = document.activeElement?.closest("main tr[id]")?.id;
    const at = rows.findIndex((row) => rowId(row) === here);
    const waits = rows.flatMap((row, i) =>
      row.first.choices.length > 0 && takenChoice(row, decisions) === undefined ? [i] : [],
    );
    const to = rows[waits.find((i) => i > at) ?? waits[0] ?? -1];
    const row = to && (await reachRow(rowId(to)));
    return row?.querySelector<HTMLButtonElement>('[role="group"] button:enabled') ?? undefined;
  }, [rows, decisions]);
  useNext(next);
}
