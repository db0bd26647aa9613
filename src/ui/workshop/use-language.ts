"use client";

import { wrap, type Remote } from "comlink";
import { useCallback, useEffect, useRef, useState } from "react";
import type { LineMeaning } from "@/core/catalog";
import type { Examined, Found, Mark, Question, TriedIdiom } from "@/core/learn";
import type { Problem, Result } from "@/core/problem";
import type { IdiomWorker } from "@/workers/idiom.worker";

export interface Language {
  readonly definition: string;
  readonly found: readonly Found[];
  readonly examined: Examined | undefined;
  readonly tried: TriedIdiom | undefined;
  readonly problem: Problem | undefined;
  readonly busy: boolean;
  /** Questions that stand open, without those that somebody passed over. */
  readonly questions: readonly Question[];
  /** How many were answered. */
  readonly answered: number;
  readonly propose: (sample: string, about: { id: string; title: string }) => Promise<void>;
  readonly write: (definition: string) => void;
  readonly mark: (text: string, marks: readonly Mark[], means: LineMeaning | undefined) => Promise<void>;
  readonly give: (question: string, field: string, word: string) => Promise<void>;
  readonly pass: (question: string) => void;
}

/** The worker that reads samples: made when it is first asked, ended with the page. */
function useWorker(): () => Remote<IdiomWorker> {
  const worker = useRef<Worker>(undefined);
  const api = useRef<Remote<IdiomWorker>>(undefined);
  useEffect(() => () => worker.current?.terminate(), []);
  return useCallback(() => {
    worker.current ??= new Worker(new URL("../../workers/idiom.worker.ts", import.meta.url), {
      type: "module",
      name: "idiom",
    });
    return (api.current ??= wrap<IdiomWorker>(worker.current));
  }, []);
}

/** A language while it is made from a sample: proposed, asked about, marked on the sample, or written by hand. */
export function useLanguage(sample: string): Language {
  const worker = useWorker();
  const [definition, setDefinition] = useState("");
  const [found, setFound] = useState<readonly Found[]>([]);
  const [examined, setExamined] = useState<Examined>();
  const [tried, setTried] = useState<TriedIdiom>();
  const [problem, setProblem] = useState<Problem>();
  const [busy, setBusy] = useState(false);
  const [passed, setPassed] = useState<readonly string[]>([]);
  const [answered, setAnswered] = useState(0);
  useEffect(() => {
    if (definition === "") return undefined;
    let stale = false;
    const look = async () => {
      const [next, trial] = [await worker().examine(definition, sample), await worker().tryIdiom(definition, sample)];
      if (stale) return;
      setProblem(next.ok ? (trial.ok ? undefined : trial.problem) : next.problem);
      if (next.ok) setExamined(next.value);
      if (trial.ok) setTried(trial.value);
    };
    const timer = setTimeout(() => void look(), 200);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [definition, sample, worker]);
  const take = (result: Result<string>): boolean => {
    setProblem(result.ok ? undefined : result.problem);
    if (result.ok) setDefinition(result.value);
    return result.ok;
  };
  return {
    definition,
    found,
    examined,
    tried,
    problem,
    busy,
    answered,
    questions: (examined?.questions ?? []).filter(({ id }) => !passed.includes(id)),
    write: setDefinition,
    pass: (id) => setPassed([...passed, id]),
    propose: async (text, about) => {
      setBusy(true);
      const proposed = await worker().proposeIdiom(text, about);
      setBusy(false);
      setPassed([]);
      setAnswered(0);
      setProblem(proposed.ok ? undefined : proposed.problem);
      if (!proposed.ok) return;
      setFound(proposed.value.found);
      setDefinition(proposed.value.definition);
    },
    mark: async (text, marks, means) => {
      const form = await worker().formOfMarks(text, [...marks], means);
      if (!form.ok) setProblem(form.problem);
      else if (take(await worker().withForm(definition, form.value, text))) setAnswered(answered + 1);
    },
    give: async (question, field, word) => {
      if (take(await worker().withGiven(definition, field, word))) {
        setPassed([...passed, question]);
        setAnswered(answered + 1);
      }
    },
  };
}
