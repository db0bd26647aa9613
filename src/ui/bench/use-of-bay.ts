import { useEffect, useState } from "react";
import { send } from "@/ui/base/ask";

/** What the server says of the board in a bay, asked anew whenever that is another board or runs something else. */
export function useOfBay<T>(no: number, what: "parts" | "abilities", board: string, seen: boolean): T | undefined {
  const [loaded, setLoaded] = useState<{ readonly board: string; readonly value: T }>();
  useEffect(() => {
    if (!seen) return undefined;
    let gone = false;
    void send<T>(`/api/bench/${no}/${what}`, undefined, "GET").then((answer) => {
      if (!gone && answer.ok) setLoaded({ board, value: answer.value });
    });
    return () => {
      gone = true;
    };
  }, [no, what, board, seen]);
  return loaded?.board === board ? loaded.value : undefined;
}
