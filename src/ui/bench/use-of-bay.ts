import { useEffect, useState } from "react";
import type { AbilityView } from "@/contracts/answers/abilities";
import type { PartChoices } from "@/contracts/answers/parts";
import { send } from "@/ui/base/ask";

interface Told {
  readonly parts: PartChoices;
  readonly abilities: readonly AbilityView[];
}

/** What the server says of the board in a bay, asked anew whenever that is another board or runs something else. */
export function useOfBay<W extends keyof Told>(no: number, what: W, board: string, seen: boolean): Told[W] | undefined {
  const [loaded, setLoaded] = useState<{ readonly board: string; readonly value: Told[W] }>();
  useEffect(() => {
    if (!seen) return undefined;
    let gone = false;
    void send<Told[W]>(`/api/bench/${no}/${what}`, undefined, "GET").then((answer) => {
      if (!gone && answer.ok) setLoaded({ board, value: answer.value });
    });
    return () => {
      gone = true;
    };
  }, [no, what, board, seen]);
  return loaded?.board === board ? loaded.value : undefined;
}
