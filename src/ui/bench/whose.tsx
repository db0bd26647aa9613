"use client";

import { ReasonField } from "@/ui/base/reason-field";
import { useId, useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { ProblemNote } from "@/ui/base/parts";
import { AddAircraft } from "@/ui/fleet/add-aircraft";
import { modelsLike, modelText, type ModelChoice } from "@/ui/bench/models-like";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { Field } from "@/ui/base/field";

/** Refusals that whoever knows better may overrule. */
const OVERRULED: ReadonlySet<string> = new Set(["board-taken", "aircraft-has-board"]);
/** A refusal that goes on with a reason, by name. */
const CONTRADICTED = "model-contradiction";

/** Says whose board stands in the bay; the model only where the board's own word leaves several. */
export function WhoseIsIt({
  no,
  owned,
  boardName,
  target,
  processor,
  usb,
  models,
  boardless,
  types,
}: {
  readonly no: number;
  /** It belongs to an aircraft already. */
  readonly owned: boolean;
  readonly boardName: string | undefined;
  readonly target: string | undefined;
  readonly processor: string | undefined;
  readonly usb: string | undefined;
  readonly models: readonly ModelChoice[];
  /** Tags of aircraft that have no board yet. */
  readonly boardless: readonly string[];
  /** Types that the fleet has already. */
  readonly types: readonly string[];
}) {
  const { ask, busy, problem, clear } = useAsk();
  const [tag, setTag] = useState("");
  const likely = modelsLike(models, boardName, target, processor, usb);
  const [chosen, setChosen] = useState("");
  const modelId = likely.length === 1 ? (likely[0]?.id ?? "") : chosen;
  const id = useId();
  const [reason, setReason] = useState("");
  const give = (replace: boolean) =>
    void ask(`/api/bench/${no}`, { kind: "give", tag: tag.trim(), modelId, replace, reason: reason.trim() });
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
        <div>
          <Field
            label="Tag of its aircraft"
            look="plain"
            className="w-40"
            value={tag}
            list={id}
            maxLength={16}
            autoCapitalize="characters"
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
        </div>
        {likely.length !== 1 && (
          <Select
            label="Model: look at its print and at the small letters on its edge"
            value={chosen}
            none="choose"
            options={likely.map((model) => ({ value: model.id, text: modelText(model) }))}
            onValue={(next) => {
              setChosen(next);
              clear();
            }}
          />
        )}
        <Press submit look="main" busy={busy} disabled={tag.trim() === "" || modelId === ""}>
          Give the board to {tag.trim() === "" ? "its aircraft" : tag.trim()}
        </Press>
      </div>
      <p className="text-sm text-faded">
        {likely.length === 1
          ? `It is a ${likely[0]?.title ?? ""}${boardName === undefined ? "" : ", by its own word"}. `
          : ""}
        {owned
          ? "Read-outs stay with the aircraft that they were taken of; both aircraft stay out of service until a job is signed off."
          : "Its read-outs go with it; the aircraft stays out of service until a job is signed off."}
      </p>
      {problem && <ProblemNote problem={problem} />}
      {problem?.code === "aircraft-none" && (
        <p>
          <AddAircraft types={types} tag={tag.trim()} onAdded={() => give(false)} />
        </p>
      )}
      {problem?.code === CONTRADICTED && (
        <ReasonField label="Why it is that model all the same" value={reason} onReason={setReason} />
      )}
      {again && (
        <p>
          <Press busy={busy} onClick={() => give(true)}>
            Give it to {tag.trim()} all the same
          </Press>
        </p>
      )}
    </form>
  );
}
