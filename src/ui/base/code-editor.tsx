"use client";

import { yaml } from "@codemirror/lang-yaml";
import { HighlightStyle, syntaxHighlighting } from "@codemirror/language";
import { EditorState, RangeSetBuilder, StateEffect, StateField, type Extension } from "@codemirror/state";
import { Decoration, EditorView, type DecorationSet } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { basicSetup } from "codemirror";
import { useEffect, useRef } from "react";

/** A line to point out, from 1, with what is said of it when the pointer rests there. */
export interface MarkedLine {
  readonly line: number;
  readonly says: string;
}

interface CodeEditorProps {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly language?: "yaml";
  /** Its greatest height, in lines. */
  readonly rows: number;
  readonly marked?: readonly MarkedLine[];
}

const LOOK = EditorView.theme({
  "&": { backgroundColor: "var(--sheet)", color: "var(--ink)", border: "1px solid var(--edge)", borderRadius: "3px" },
  "&.cm-focused": { outline: "2px solid var(--water)", outlineOffset: "1px" },
  ".cm-scroller": { fontFamily: "var(--font-key)", fontSize: "13px", lineHeight: "1.55" },
  ".cm-content": { caretColor: "var(--ink)", padding: "6px 0" },
  ".cm-gutters": { backgroundColor: "var(--paper)", color: "var(--faded)", border: "none" },
  ".cm-activeLine, .cm-activeLineGutter": { backgroundColor: "color-mix(in srgb, var(--water) 8%, transparent)" },
  "&.cm-focused > .cm-scroller > .cm-selectionLayer .cm-selectionBackground, .cm-selectionBackground": {
    backgroundColor: "var(--water-wash)",
  },
  ".cm-cursor": { borderLeftColor: "var(--ink)" },
  ".cm-marked": { backgroundColor: "var(--heather-wash)", boxShadow: "inset 3px 0 0 var(--heather)" },
  ".cm-panels": { backgroundColor: "var(--bench)", color: "var(--ink)" },
  ".cm-searchMatch": { backgroundColor: "var(--straw-wash)" },
});

const INK = HighlightStyle.define([
  { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: "var(--water)" },
  { tag: tags.string, color: "var(--reed)" },
  { tag: tags.comment, color: "var(--faded)", fontStyle: "italic" },
  { tag: [tags.number, tags.bool, tags.keyword], color: "var(--heather)" },
]);

const mark = StateEffect.define<readonly MarkedLine[]>();
const marks = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(set, transaction) {
    let next = set.map(transaction.changes);
    for (const effect of transaction.effects)
      if (effect.is(mark)) {
        const builder = new RangeSetBuilder<Decoration>();
        for (const { line, says } of effect.value) {
          if (line < 1 || line > transaction.state.doc.lines) continue;
          const { from } = transaction.state.doc.line(line);
          builder.add(from, from, Decoration.line({ class: "cm-marked", attributes: { title: says } }));
        }
        next = builder.finish();
      }
    return next;
  },
  provide: (field) => EditorView.decorations.from(field),
});

function extensionsFor(label: string, language: CodeEditorProps["language"], rows: number): Extension[] {
  return [
    basicSetup,
    LOOK,
    syntaxHighlighting(INK),
    EditorView.lineWrapping,
    EditorView.theme({ ".cm-scroller": { maxHeight: `${rows * 1.55 * 13}px` } }),
    EditorView.contentAttributes.of({ "aria-label": label, spellcheck: "false", tabindex: "0" }),
    marks,
    ...(language === "yaml" ? [yaml()] : []),
  ];
}

/** A text that is written by hand: line numbers, search (Ctrl-F), undo, and lines that can be pointed out. */
export function CodeEditor({ label, value, onChange, language, rows, marked }: CodeEditorProps) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const changed = useRef(onChange);
  const first = useRef(value);
  useEffect(() => {
    changed.current = onChange;
  }, [onChange]);
  useEffect(() => {
    if (!host.current) return;
    const made = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: first.current,
        extensions: [
          ...extensionsFor(label, language, rows),
          EditorView.updateListener.of((update) => {
            if (!update.docChanged) return;
            first.current = update.state.doc.toString();
            changed.current(first.current);
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [label, language, rows]);
  useEffect(() => {
    const editor = view.current;
    // what was typed here comes back as the value; only another text replaces what stands
    if (!editor || value === first.current) return;
    editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } });
  }, [value]);
  useEffect(() => {
    view.current?.dispatch({ effects: mark.of(marked ?? []) });
  }, [marked]);
  return <div ref={host} className="min-w-0" />;
}
