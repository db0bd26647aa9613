"use client";

import type { AbilityView } from "@/contracts/answers/abilities";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Folded } from "@/ui/base/folded";
import { counted } from "@/ui/base/words";
import type { SeenBoard } from "@/ui/bench/seen-board";
import { useOfBay } from "@/ui/bench/use-of-bay";
import { useOrder } from "@/ui/bench/use-order";

const SHAPES = { there: "disc", "to-do": "half", cannot: "square" } as const;
const SAYS = { there: "there", "to-do": "missing: the job does it", cannot: "cannot be had" } as const;

/** How an ability stands altogether, in a few words. */
export function abilitySays({ needs }: Pick<AbilityView, "needs">): string {
  const cannot = needs.filter(({ state }) => state === "cannot").length;
  const missing = needs.filter(({ state }) => state === "to-do").length;
  if (cannot > 0) return `${counted(cannot, "thing")} that it needs cannot be had`;
  return missing === 0 ? "there already" : `${counted(missing, "thing")} missing, all can be done`;
}

/** What the aircraft could do: what each ability needs, what of it is there, and the order that brings the rest about. */
export function OrderAbility({ no, aircraftId, board, seen }: SeenBoard) {
  const { order, busy, problem } = useOrder();
  const abilities = useOfBay(no, "abilities", board, seen);
  if (!abilities || abilities.length === 0) return null;
  return (
    <section aria-label="Abilities" className="mt-4 grid gap-2 border-t border-rule pt-3">
      <h3>Abilities</h3>
      {abilities.map((ability) => (
        <Folded key={ability.id} look="link" head={`${ability.title}: ${abilitySays(ability)}`}>
          <div className="mt-2 grid gap-2 pl-5">
            <p className="text-sm">{ability.says}</p>
            <ul aria-label={`What it needs: ${ability.title}`} className="grid gap-1 text-sm">
              {ability.needs.map(({ state, says }) => (
                <li key={says}>
                  <StateShape shape={SHAPES[state]} /> {says} <span className="text-faded">· {SAYS[state]}</span>
                </li>
              ))}
            </ul>
            <p>
              <Press
                look="main"
                busy={busy}
                disabled={ability.needs.every(({ state }) => state === "there")}
                onClick={() => void order({ bayNo: no, aircraftId, goal: { kind: "ability", ability: ability.id } })}
              >
                Order what is missing
              </Press>
            </p>
            {problem && <ProblemNote problem={problem} />}
          </div>
        </Folded>
      ))}
    </section>
  );
}
