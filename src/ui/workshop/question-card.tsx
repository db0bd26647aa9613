"use client";

import { useState } from "react";
import type { FieldName, LineMeaning } from "@/core/catalog";
import type { Mark, Question } from "@/core/learn";
import { FIELD_LOOK } from "@/ui/base/parts";
import { Marking } from "@/ui/workshop/marking";
import { Press } from "@/ui/base/press";

const FACTS: ReadonlySet<string> = new Set(["family", "release", "target"]);
const isFact = (id: string): id is "family" | "release" | "target" => FACTS.has(id);

/** One question at a time, on the sample itself: a stretch is marked, a word is said, or it is passed over. */
export function QuestionCard({
  question,
  left,
  onMark,
  onGive,
  onPass,
}: {
  readonly question: Question;
  /** How many stand behind it. */
  readonly left: number;
  readonly onMark: (text: string, marks: readonly Mark[], means: LineMeaning | undefined) => void;
  readonly onGive: (field: string, word: string) => void;
  readonly onPass: () => void;
}) {
  const [at, setAt] = useState(0);
  const [word, setWord] = useState("");
  const line = question.lines[at] ?? question.lines[0];
  const field: FieldName = isFact(question.id) ? question.id : "key";
  return (
    <section aria-label="Question" className="border border-heather bg-heather-wash px-3.5 py-3">
      <h2 className="text-lg">{question.ask}</h2>
      {question.lines.length > 1 && (
        <label className="text-sm">
          On line
          <select
            className={`${FIELD_LOOK.plain} mt-1 block max-w-full`}
            value={at}
            onChange={(event) => setAt(Number(event.target.value))}
          >
            {question.lines.map(({ no, text }, i) => (
              <option key={no} value={i}>
                {no}: {text.slice(0, 60)}
              </option>
            ))}
          </select>
        </label>
      )}
      {line && (
        <div className="mt-2">
          <Marking key={`${question.id} ${line.no}`} line={line} field={field} onTake={onMark} />
        </div>
      )}
      <div className="mt-3 flex flex-wrap items-end gap-2 border-t border-rule pt-2.5">
        {isFact(question.id) && (
          <>
            <label className="text-sm">
              It does not say; it is always
              <input
                className={`${FIELD_LOOK.plain} mt-1 block w-40`}
                value={word}
                maxLength={32}
                onChange={(event) => setWord(event.target.value)}
              />
            </label>
            <Press disabled={word.trim() === ""} onClick={() => onGive(question.id, word.trim())}>
              Say so
            </Press>
          </>
        )}
        <Press onClick={onPass}>{isFact(question.id) ? "Nothing says it" : "Leave it open"}</Press>
        <span className="text-sm text-faded">
          {left === 0 ? "The last one." : `${left} more ${left === 1 ? "question" : "questions"}.`}
        </span>
      </div>
    </section>
  );
}
