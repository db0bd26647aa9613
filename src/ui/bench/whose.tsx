"use client";

import { useId, useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { BUTTON_LOOK, FIELD_LOOK, ProblemNote } from "@/ui/base/parts";
import { modelsLike, type ModelChoice } from "@/ui/bench/models-like";

/** Refusals that whoever knows better may overrule. */
const OVERRULED: ReadonlySet<string> = new Set(["board-taken", "aircraft-has-board"]);

/** Says whose board stands in the bay; the model only where the board's own word leaves several. */
export function WhoseIsIt({
  no,
  owned,
  boardName,
  target,
  processor,
  models,
  boardless,
}: {
  readonly no: number;
  /** It belongs to an aircraft already. */
  readonly owned: boolean;
  readonly boardName: string | undefined;
  readonly target: string | undefined;
  readonly processor: string | undefined;
  readonly models: readonly ModelChoice[];
  /** Tags of aircraft that have no board yet. */
  readonly boardless: readonly string[];
}) {
  const { ask, busy, problem, clear } = useAsk();
  const [tag, setTag] = useState("");
  const likely = modelsLike(models, boardName, target, processor);
  const [chosen, setChosen] = useState("");
  const modelId = likely.length === 1 ? (likely[0]?.id ?? "") : chosen;
  const id = useId();
  const give = (replace: boolean) => void ask(`/api/bench/${no}`, { kind: "give", tag: tag.trim(), modelId, replace });
  const again = problem !== undefined && OVERRULED.has(problem.code);
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        give(false);
      }}
    >
      <div className="flex flex-wrap items-end gap-2">
        <label className="text-sm">
          Tag of its aircraft
          <input
            value={tag}
            list={id}
            maxLength={16}
            autoCapitalize="characters"
            className={`${FIELD_LOOK.plain} mt-1 block w-40`}
            onChange={(event) => {
              setTag(event.target.value);
              clear();
            }}
          />
          <datalist id={id}>
            {boardless.map((each) => (
              <option key={each} value={each} />
            ))}
          </datalist>
        </label>
        {likely.length !== 1 && (
          <label className="text-sm">
            Model, as printed on it
            <select
              value={chosen}
              className={`${FIELD_LOOK.plain} mt-1 block`}
              onChange={(event) => {
                setChosen(event.target.value);
              }}
            >
              <option value="">choose</option>
              {likely.map((model) => (
                <option key={model.id} value={model.id}>
                  {model.title}, printed “{model.printed}”
                </option>
              ))}
            </select>
          </label>
        )}
        <button
          type="submit"
          className={`${BUTTON_LOOK.main} disabled:opacity-50`}
          disabled={busy || tag.trim() === "" || modelId === ""}
        >
          Give it this board
        </button>
      </div>
      <p className="text-sm text-faded">
        {likely.length === 1
          ? `It is a ${likely[0]?.title ?? ""}${boardName === undefined ? "" : ", by its own word"}. `
          : ""}
        {owned
          ? "Read-outs stay with the aircraft that they were taken of; both stay on the ground until a job is signed off."
          : "Its read-outs go with it; the aircraft stays on the ground until a job is signed off."}
      </p>
      {problem && <ProblemNote problem={problem} />}
      {again && (
        <p>
          <button type="button" className={BUTTON_LOOK.plain} disabled={busy} onClick={() => give(true)}>
            Give it to {tag.trim()} all the same
          </button>
        </p>
      )}
    </form>
  );
}
