import { TOLD_FIELDS } from "@/core/catalog/pattern";

/** What a line of a read-out can mean, and which fields its pattern may have: the vocabulary of idiom documents. */
export const LINE_MEANINGS = [
  "fact",
  "end",
  "set",
  "raise",
  "lower",
  "row",
  "cell",
  "select",
  "activate",
  "clear",
  "section",
  "leave",
  "comment",
  "answer",
] as const;
export type LineMeaning = (typeof LINE_MEANINGS)[number];

export const FACT_FIELDS = ["family", "release", "builtOn", "target", "board", "chipId", "extent", "kept"] as const;

export const FIELD_NAMES = [
  "name",
  "key",
  "value",
  "values",
  "member",
  "lines",
  "check",
  "table",
  "cells",
  "row",
  "column",
  "profile",
  "number",
  "section",
  "prefix",
  "area",
  ...TOLD_FIELDS,
  ...FACT_FIELDS,
] as const;
export type FieldName = (typeof FIELD_NAMES)[number];

/** Fields that the forms of each meaning know; `text` and names that begin with it are passed over everywhere. */
export const FIELDS_OF: Readonly<Record<LineMeaning, readonly FieldName[]>> = {
  fact: ["name", "value", ...FACT_FIELDS],
  end: ["lines", "check"],
  set: ["key", "value", "values", "profile", "number", "area", ...TOLD_FIELDS],
  raise: ["key", "member", "profile", "number", "area"],
  lower: ["key", "member", "profile", "number", "area"],
  row: ["table", "cells"],
  cell: ["table", "row", "column", "value"],
  select: ["profile", "number"],
  activate: ["profile", "number"],
  clear: ["table"],
  section: ["section", "number", "prefix"],
  leave: [],
  comment: [],
  answer: [],
};

/** Fields without which a form says nothing. */
export const NEEDED: Readonly<Record<LineMeaning, readonly (readonly FieldName[])[]>> = {
  fact: [["value", ...FACT_FIELDS]],
  end: [],
  set: [["key"], ["value", "values"]],
  raise: [["key"], ["member"]],
  lower: [["key"], ["member"]],
  row: [["cells"]],
  cell: [["row"], ["column"], ["value"]],
  select: [["profile"], ["number"]],
  activate: [["profile"], ["number"]],
  clear: [["table"]],
  section: [["section", "prefix"]],
  leave: [],
  comment: [],
  answer: [],
};
