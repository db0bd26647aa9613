"use client";

import { useEffect, useMemo, useState } from "react";
import type { TriedIdiom } from "@/core/learn";
import type { Result } from "@/core/problem";
import { Table } from "@/ui/base/table";
import { CodeEditor } from "@/ui/base/code-editor";
import { StateShape } from "@/ui/base/mark";
import { BUTTON_LOOK, ProblemNote } from "@/ui/base/parts";
import { AdoptionNotes, useAdoption } from "@/ui/firmware/adopt";
import { useIdiomWorker } from "@/ui/workshop/idiom-worker";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { Folded } from "@/ui/base/folded";

export interface WorkshopIdiom {
  readonly id: string;
  readonly title: string;
  readonly text: string;
}

const QUIET_MS = 250;

/** Tries the definition on the sample after each pause in typing, in a worker, so that typing never waits. */
function useTrial(definition: string, sample: string): Result<TriedIdiom> | undefined {
  const [trial, setTrial] = useState<Result<TriedIdiom>>();
  const ask = useIdiomWorker();
  useEffect(() => {
    let stale = false;
    const timer = setTimeout(() => {
      void ask((worker) => worker.tryIdiom(definition, sample)).then((result) => {
        if (!stale) setTrial(result);
      });
    }, QUIET_MS);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [definition, sample, ask]);
  return trial;
}

export function IdiomWorkshop({
  idioms,
  mayImport,
  sampleAtFirst,
  beginWith,
}: {
  readonly idioms: readonly WorkshopIdiom[];
  /** The idiom that the sample is in. */
  readonly beginWith: string | undefined;
  readonly mayImport: boolean;
  readonly sampleAtFirst: string;
}) {
  const [definition, setDefinition] = useState(
    (idioms.find((idiom) => idiom.id === beginWith) ?? idioms[0])?.text ?? "",
  );
  const [sample, setSample] = useState(sampleAtFirst);
  const adoption = useAdoption();
  const trial = useTrial(definition, sample);
  const tried = trial?.ok ? trial.value : undefined;
  const leftOver = useMemo(() => tried?.lines.filter((line) => line.kind === "foreign") ?? [], [tried]);
  return (
    <div className="grid grid-cols-2 items-start gap-5 max-lg:grid-cols-1">
      <div className="grid min-w-0 gap-2">
        <div className="flex flex-wrap items-center justify-between gap-2">
          <h2>Definition</h2>
          <Select
            label="Begin from"
            says="beside"
            value=""
            options={idioms.map(({ id, title }) => ({ value: id, text: title }))}
            onValue={(id) => setDefinition(idioms.find((idiom) => idiom.id === id)?.text ?? definition)}
          />
        </div>
        <CodeEditor
          label="Definition"
          language="yaml"
          rows={26}
          value={definition}
          onChange={(text) => {
            setDefinition(text);
            adoption.leave();
          }}
        />
        {trial && !trial.ok && <ProblemNote problem={trial.problem} />}
        {mayImport ? (
          <div className="flex flex-wrap items-center gap-2">
            <Press busy={adoption.busy} disabled={!tried} onClick={() => void adoption.look(new Blob([definition]))}>
              What would read differently
            </Press>
            <Press
              look="main"
              busy={adoption.busy}
              disabled={!tried}
              onClick={() => void adoption.adopt(new Blob([definition]))}
            >
              Save as the next version
            </Press>
            <a
              className={BUTTON_LOOK.plain}
              download="idiom.yaml"
              href={`data:application/yaml;charset=utf-8,${encodeURIComponent(definition)}`}
            >
              Export
            </a>
          </div>
        ) : (
          <p className="text-sm text-faded">The lead technician saves definitions.</p>
        )}
        <AdoptionNotes adoption={adoption} />
      </div>
      <div className="grid min-w-0 gap-2">
        <h2>Sample of a console</h2>
        <CodeEditor label="Sample of a console" rows={9} value={sample} onChange={setSample} marked={leftOver} />
        <p role="status" className="text-sm">
          {tried
            ? `${tried.understood} statements understood, ${tried.leftOver} left over.`
            : "The definition has to hold together first."}
        </p>
        {tried && <Understood tried={tried} />}
      </div>
    </div>
  );
}

function Understood({ tried }: { readonly tried: TriedIdiom }) {
  return (
    <>
      <div
        className="max-h-[26rem] overflow-auto border border-rule bg-sheet"
        tabIndex={0}
        role="region"
        aria-label="Line by line"
      >
        <Table
          bare
          label="What each line is understood as"
          rows={tried.lines.slice(0, 400)}
          keyOf={(_, i) => i}
          rowLook={({ kind }) => (kind === "foreign" ? "bg-heather-wash" : "")}
          columns={[
            { head: "Line", look: "w-10 text-right text-faded", cell: ({ line }) => line },
            { head: "Text", look: "key wrap-anywhere whitespace-pre-wrap", cell: ({ text }) => text },
            {
              head: "Understood as",
              look: "text-sm",
              cell: ({ kind, says }) => (
                <>
                  {kind === "foreign" && <StateShape shape="dashed" />} {says}
                </>
              ),
            },
          ]}
        />
      </div>
      <Folded look="link" head="What the first read-back would look like">
        {tried.readBackProblem ? (
          <ProblemNote problem={tried.readBackProblem} />
        ) : (
          <pre className="mt-1 max-h-72 overflow-auto border border-rule bg-sheet p-2.5 key text-[13px]" tabIndex={0}>
            {tried.readBack.slice(0, 300).join("\n")}
          </pre>
        )}
      </Folded>
    </>
  );
}
