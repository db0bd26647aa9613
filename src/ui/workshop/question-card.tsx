"use client";

import { useState } from "react";
import type { FieldName, LineMeaning } from "@/core/catalog";
import type { Mark, Question } from "@/core/learn";
import { Marking } from "@/ui/workshop/marking";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { Field } from "@/ui/base/field";

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
        <Select
          label="On line"
          value={String(at)}
          options={question.lines.map(({ no, text }, i) => ({ value: String(i), text: `${no}: ${text.slice(0, 60)}` }))}
          onValue={(next) => setAt(Number(next))}
        />
      )}
      {line && (
        <div className="mt-2">
          <Marking key={`${question.id} ${line.no}`} line={line} field={field} onTake={onMark} />
        </div>
      )}
      <div className="mt-3 flex flex-wrap items-end gap-2 border-t border-rule pt-2.5">
        {isFact(question.id) && (
          <>
            <Field
              label="It does not say; it is always"
              look="plain"
              className="w-40"
              value={word}
              maxLength={32}
              onChange={(event) => setWord(event.target.value)}
            />
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
