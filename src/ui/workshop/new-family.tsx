"use client";

import { Table } from "@/ui/base/table";
import { Link } from "@/ui/base/link";
import { useState } from "react";
import type { Found, LearntRelease, Readiness, TriedIdiom } from "@/core/learn";
import { useAsk } from "@/ui/base/ask";
import { CodeEditor } from "@/ui/base/code-editor";
import { FileButton } from "@/ui/base/file-button";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { counted } from "@/ui/base/words";
import { AdoptionNotes, useAdoption } from "@/ui/firmware/adopt";
import { QuestionCard } from "@/ui/workshop/question-card";
import { useLanguage } from "@/ui/workshop/use-language";
import { Press } from "@/ui/base/press";
import { Field } from "@/ui/base/field";
import { TextBox } from "@/ui/base/text-box";
import { Folded } from "@/ui/base/folded";

const SHOWN_LINES = 600;

const KIND_SAYS: Readonly<Partial<Record<TriedIdiom["lines"][number]["kind"], string>>> = {
  set: "value",
  member: "flag",
  row: "row",
  cell: "cell",
  select: "profile",
  activate: "in use",
  section: "heading",
  leave: "end of it",
  clear: "table",
  fact: "fact",
  end: "end",
  record: "record",
  comment: "comment",
  answer: "answer",
  echo: "typed",
};

/** The bytes of a file as text: UTF-8, else Latin-1. */
async function readFile(file: File): Promise<string> {
  const bytes = await file.arrayBuffer();
  try {
    return new TextDecoder("utf-8", { fatal: true, ignoreBOM: true }).decode(bytes);
  } catch {
    return new TextDecoder("iso-8859-1").decode(bytes);
  }
}

const slug = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");

/** From a read-out of an unknown console to a language and a release: what is there, what is missing, what comes next. */
export function NewFamily({
  mayImport,
  known,
}: {
  readonly mayImport: boolean;
  /** Ids of languages that the workshop has. */
  readonly known: readonly string[];
}) {
  const [sample, setSample] = useState("");
  const [name, setName] = useState("");
  const language = useLanguage(sample);
  const adoption = useAdoption();
  const { examined, tried, questions, definition } = language;
  const id = slug(name);
  const taken = known.includes(id) && adoption.outcome === "";
  const [next, ...more] = questions;
  return (
    <div className="grid grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)] items-start gap-5 max-lg:grid-cols-1">
      <div className="grid min-w-0 gap-3">
        <Sheet label="Read-out" className="px-4 py-3.5">
          <h2>1. A read-out of it</h2>
          <p className="text-sm text-faded">
            The whole text that its console printed, or a file that it saved. It stays in this browser until you keep
            something.
          </p>
          <div className="mt-2">
            <Field
              label="What the language is called"
              look="plain"
              className="w-64"
              value={name}
              maxLength={60}
              onChange={(event) => setName(event.target.value)}
            />
          </div>
          {taken && <p className="mt-1 text-sm text-clay">There is a language of this name; choose another.</p>}
          <TextBox
            aria-label="Read-out"
            rows={tried ? 3 : 9}
            value={sample}
            onChange={(event) => setSample(event.target.value)}
            className="mt-2 key"
          />
          <div className="mt-2 flex flex-wrap gap-2">
            <Press
              look="main"
              busy={language.busy}
              disabled={sample.trim() === "" || id === "" || taken}
              onClick={() => {
                adoption.leave();
                void language.propose(sample, { id, title: name.trim() });
              }}
            >
              Work its language out
            </Press>
            <FileButton
              onFiles={([file]) => {
                if (file) void readFile(file).then(setSample);
              }}
            >
              Take a file
            </FileButton>
          </div>
        </Sheet>
        {tried && <ReadLines tried={tried} />}
      </div>
      <div className="grid min-w-0 gap-3">
        {language.problem && <ProblemNote problem={language.problem} />}
        {examined && (
          <p role="status">
            <b>
              {examined.understood} of {examined.meaningful} statements are understood.
            </b>{" "}
            {language.answered === 0 ? "" : `${language.answered} answered. `}
            {next ? "" : "Nothing has to be asked."}
          </p>
        )}
        {next && (
          <QuestionCard
            key={next.id}
            question={next}
            left={more.length}
            onMark={(text, marks, means) => void language.mark(text, marks, means)}
            onGive={(field, word) => void language.give(next.id, field, word)}
            onPass={() => language.pass(next.id)}
          />
        )}
        {examined && (
          <Sheet label="The language" className="grid gap-2 px-4 py-3.5">
            <h2>2. Its language</h2>
            <FoundList found={language.found} />
            {examined.unwritable.length > 0 && (
              <p className="text-sm">
                <StateShape shape="triangle" /> It can be read and not written yet: no form for{" "}
                {examined.unwritable.join("; ")}.
              </p>
            )}
            <Folded look="link" head="The definition, as text">
              <CodeEditor label="Definition" language="yaml" rows={18} value={definition} onChange={language.write} />
            </Folded>
            {mayImport ? (
              <Press
                look="main"
                className="justify-self-start"
                busy={adoption.busy}
                onClick={() => void adoption.adopt(new Blob([definition]))}
              >
                Keep the language
              </Press>
            ) : (
              <p className="text-sm text-faded">The lead technician keeps languages and releases.</p>
            )}
            <AdoptionNotes adoption={adoption} />
          </Sheet>
        )}
        {adoption.outcome !== "" && <ReleaseFromSample sample={sample} idiom={id} />}
      </div>
    </div>
  );
}

function ReadLines({ tried }: { readonly tried: TriedIdiom }) {
  return (
    <div
      className="max-h-[34rem] overflow-auto border border-rule bg-sheet"
      tabIndex={0}
      role="region"
      aria-label="Line by line"
    >
      <Table
        bare
        label="What each line is understood as"
        rows={tried.lines.slice(0, SHOWN_LINES)}
        keyOf={(_, i) => i}
        rowLook={({ kind }) => (kind === "foreign" ? "bg-heather-wash" : "")}
        columns={[
          { head: "Line", look: "w-10 text-right text-faded", cell: ({ line }) => line },
          {
            head: "Text",
            look: "key wrap-anywhere whitespace-pre-wrap",
            hint: ({ says }) => says,
            cell: ({ text }) => text,
          },
          {
            head: "Kind",
            look: "w-24 text-sm whitespace-nowrap text-faded",
            hint: ({ says }) => says,
            cell: ({ kind }) =>
              kind === "foreign" ? (
                <>
                  <StateShape shape="dashed" /> open
                </>
              ) : (
                KIND_SAYS[kind]
              ),
          },
        ]}
      />
    </div>
  );
}

const sureness = (sure: number) => (sure >= 0.9 ? "sure" : sure >= 0.75 ? "likely" : "a guess");

function FoundList({ found }: { readonly found: readonly Found[] }) {
  if (found.length === 0) return null;
  return (
    <ul aria-label="What was found" className="grid gap-1 text-sm">
      {found.map(({ what, sure, for: lines, against }) => (
        <li key={what}>
          <StateShape shape={sure >= 0.9 ? "disc" : sure >= 0.75 ? "half" : "dashed"} /> {what}{" "}
          <span className="text-faded">
            {sureness(sure)}; lines {lines.join(", ")}
            {against.length > 0 ? `, against it ${against.join(", ")}` : ""}
          </span>
        </li>
      ))}
    </ul>
  );
}

interface KeptRelease extends LearntRelease {
  readonly kept?: { readonly id: string };
  readonly ready?: readonly Readiness[];
}

/** A release from the same sample, and what can be done with both. */
function ReleaseFromSample({ sample, idiom }: { readonly sample: string; readonly idiom: string }) {
  const [family, setFamily] = useState("");
  const [version, setVersion] = useState("");
  const [learnt, setLearnt] = useState<KeptRelease>();
  const { ask, busy, problem } = useAsk();
  const learn = async (keep: boolean) => {
    const query = new URLSearchParams({ idiom, family, version, keep: String(keep) });
    const found = await ask<KeptRelease>(`/api/learn?${query.toString()}`, new Blob([sample]));
    if (found) setLearnt(found);
  };
  return (
    <Sheet label="A release" className="grid gap-2 px-4 py-3.5">
      <h2>3. A release from the same sample</h2>
      <div className="flex flex-wrap items-end gap-3 text-sm">
        <Field
          label="Family, if it does not say"
          look="plain"
          className="w-40"
          value={family}
          maxLength={80}
          onChange={(event) => setFamily(event.target.value)}
        />
        <Field
          label="Version, if it does not say"
          look="plain"
          className="w-40"
          value={version}
          maxLength={16}
          onChange={(event) => setVersion(event.target.value)}
        />
        <Press busy={busy} onClick={() => void learn(false)}>
          Look at it
        </Press>
        <Press look="main" busy={busy} onClick={() => void learn(true)}>
          Keep the release
        </Press>
      </div>
      {problem && <ProblemNote problem={problem} />}
      {learnt && (
        <p role="status" className="text-sm">
          {counted(learnt.settings.length, "setting")}, {counted(learnt.tables.length, "table")},{" "}
          {learnt.profiles.map(({ kind, count }) => `${kind} ×${count}`).join(", ") || "no profiles"};{" "}
          {learnt.left.length === 0 ? "its own text is read without a rest" : `${learnt.left.length} lines left over`}.
          Ranges and types are guesses, and limit nothing.
        </p>
      )}
      {learnt?.kept && (
        <p>
          <StateShape shape="disc" /> {learnt.kept.id} is in. <Link href="/firmware">All documents</Link>
        </p>
      )}
      {learnt?.kept && learnt.ready && <WhatItIsGoodFor ready={learnt.ready} />}
      {learnt?.kept && (
        <p>
          <Link href={`/boards/new?release=${encodeURIComponent(learnt.kept.id)}`}>Say which board it runs on</Link>
        </p>
      )}
    </Sheet>
  );
}

/** Piece of work by piece of work: whether the documents are enough, and what is missing. */
function WhatItIsGoodFor({ ready }: { readonly ready: readonly Readiness[] }) {
  return (
    <Table
      bare
      label="What it is good for"
      rows={ready}
      keyOf={({ work }) => work}
      columns={[
        {
          head: "Work",
          names: true,
          look: "w-28 font-semibold",
          cell: ({ work, lacks }) => (
            <>
              <StateShape shape={lacks.length === 0 ? "disc" : "ring"} /> {work}
            </>
          ),
        },
        {
          head: "What it wants",
          look: "text-sm",
          cell: ({ lacks }) => (lacks.length === 0 ? "All that it wants is here." : `Wants ${lacks.join("; ")}.`),
        },
      ]}
    />
  );
}
