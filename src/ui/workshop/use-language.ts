"use client";

import { useEffect, useState } from "react";
import type { LineMeaning } from "@/core/catalog";
import type { Examined, Found, Mark, Question, TriedIdiom } from "@/core/learn";
import type { Problem, Result } from "@/core/problem";
import { useIdiomWorker } from "@/ui/workshop/idiom-worker";

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

/** A language while it is made from a sample: proposed, asked about, marked on the sample, or written by hand. */
export function useLanguage(sample: string): Language {
  const ask = useIdiomWorker();
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
      const next = await ask((worker) => worker.examine(definition, sample));
      const trial = await ask((worker) => worker.tryIdiom(definition, sample));
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
  }, [definition, sample, ask]);
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
      const proposed = await ask((worker) => worker.proposeIdiom(text, about));
      setBusy(false);
      setPassed([]);
      setAnswered(0);
      setProblem(proposed.ok ? undefined : proposed.problem);
      if (!proposed.ok) return;
      setFound(proposed.value.found);
      setDefinition(proposed.value.definition);
    },
    mark: async (text, marks, means) => {
      const form = await ask((worker) => worker.formOfMarks(text, [...marks], means));
      if (!form.ok) setProblem(form.problem);
      else if (take(await ask((worker) => worker.withForm(definition, form.value, text)))) setAnswered(answered + 1);
    },
    give: async (question, field, word) => {
      if (take(await ask((worker) => worker.withGiven(definition, field, word)))) {
        setPassed([...passed, question]);
        setAnswered(answered + 1);
      }
    },
  };
}
