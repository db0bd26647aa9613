"use client";

import { useRef, useState } from "react";
import { FACT_FIELDS, FIELDS_OF, LINE_MEANINGS, type FieldName, type LineMeaning } from "@/core/catalog";
import type { Mark } from "@/core/learn";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { TextBox } from "@/ui/base/text-box";

/** What people call the fields of a line. */
const FIELD_SAYS: Readonly<Partial<Record<FieldName, string>>> = {
  key: "the name or number of a setting",
  value: "its value",
  values: "values of several settings",
  member: "one flag",
  profile: "a kind of profile",
  number: "which one",
  section: "the name of a place",
  area: "an area",
  table: "the name of a table",
  cells: "keys and cells of a row",
  row: "which row",
  column: "the name of a column",
  prefix: "what keys begin with",
  name: "the name of a fact",
  family: "the firmware",
  release: "its release",
  target: "its target",
  board: "the board",
  chipId: "the chip’s id",
  builtOn: "the day it was built",
  extent: "what the read-out holds",
  lines: "how many lines there are",
  check: "a check",
};

export const MEANING_SAYS: Readonly<Record<LineMeaning, string>> = {
  set: "gives a value",
  raise: "sets one flag",
  lower: "clears one flag",
  row: "a row of a table",
  cell: "one cell of a row",
  select: "what follows is of that profile",
  section: "a heading",
  leave: "ends what stands under a heading",
  activate: "that profile is in use",
  clear: "a table begins",
  fact: "says what the read-out comes from",
  end: "closes the read-out",
  comment: "says nothing",
  answer: "the console’s answer",
};

const FIELDS = [...new Set([...Object.values(FIELDS_OF).flat(), ...FACT_FIELDS])].filter(
  (field) => FIELD_SAYS[field] !== undefined,
);

const isField = (word: string): word is FieldName => FIELDS.some((field) => field === word);
const isMeaning = (word: string): word is LineMeaning => LINE_MEANINGS.some((means) => means === word);

/** A line of the sample on which stretches are marked and said what they are; by mouse, or by keyboard with Shift and the arrows. */
export function Marking({
  line,
  field: first = "key",
  onTake,
}: {
  readonly line: { readonly no: number; readonly text: string };
  /** What is asked for: the first thing to mark. */
  readonly field?: FieldName;
  readonly onTake: (text: string, marks: readonly Mark[], means: LineMeaning | undefined) => void;
}) {
  const [marks, setMarks] = useState<readonly Mark[]>([]);
  const [field, setField] = useState<FieldName>(first);
  const [means, setMeans] = useState("");
  const [told, setTold] = useState("");
  const box = useRef<HTMLTextAreaElement>(null);
  const add = () => {
    const { selectionStart: from = 0, selectionEnd: to = 0 } = box.current ?? {};
    if (from === to) {
      setTold("Mark a stretch of the line first.");
      return;
    }
    setTold("");
    setMarks([...marks.filter((each) => each.to <= from || each.from >= to), { from, to, field }]);
    const next = FIELDS_OF[isMeaning(means) ? means : field === "key" ? "set" : "fact"].find(
      (each) => each !== field && FIELD_SAYS[each] !== undefined && !marks.some((mark) => mark.field === each),
    );
    if (field === "key" && next) setField("value");
  };
  return (
    <div className="grid gap-2">
      <TextBox label={`Line ${line.no}`} ref={box} readOnly rows={1} value={line.text} className="resize-none key" />
      <div className="flex flex-wrap items-end gap-2">
        <Select
          label="The marked stretch is"
          value={field}
          options={FIELDS.map((each) => ({ value: each, text: FIELD_SAYS[each] ?? each }))}
          onValue={(next) => {
            if (isField(next)) setField(next);
          }}
        />
        <Press onClick={add}>Mark it</Press>
      </div>
      <p role="status" className="text-sm text-clay empty:hidden">
        {told}
      </p>
      {marks.length > 0 && (
        <ul aria-label="Marked" className="flex flex-wrap gap-1.5 text-sm">
          {marks.map((mark) => (
            <li key={mark.from} className="flex items-center gap-1.5 border border-rule px-1.5">
              <code className="key">{line.text.slice(mark.from, mark.to)}</code> {FIELD_SAYS[mark.field]}
              <Press
                aria-label={`Take the mark off ${line.text.slice(mark.from, mark.to)}`}
                look="bare"
                className="min-h-6 px-1 text-water"
                onClick={() => setMarks(marks.filter((each) => each !== mark))}
              >
                ×
              </Press>
            </li>
          ))}
        </ul>
      )}
      <div className="flex flex-wrap items-end gap-2">
        <Select
          label="The line"
          value={means}
          none="what its marks say"
          options={LINE_MEANINGS.map((each) => ({ value: each, text: MEANING_SAYS[each] }))}
          onValue={setMeans}
        />
        <Press
          look="main"
          disabled={marks.length === 0 && means === ""}
          onClick={() => onTake(line.text, marks, isMeaning(means) ? means : undefined)}
        >
          Take it
        </Press>
      </div>
    </div>
  );
}
