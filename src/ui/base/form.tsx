"use client";

import { yupResolver } from "@hookform/resolvers/yup";
import type { ReactNode } from "react";
import { get, useForm, type DefaultValues, type FieldValues, type Path, type Resolver } from "react-hook-form";
import type { ObjectSchema } from "yup";
import type { Problem } from "@/core/problem";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";

/** A form over its schema: `line` binds a field to what is written, and to what is wrong with it. */
export function useShaped<T extends FieldValues>(shape: ObjectSchema<T>, defaultValues: DefaultValues<T>) {
  const form = useForm<T>({
    resolver: yupResolver(shape as unknown as ObjectSchema<FieldValues>) as unknown as Resolver<T>,
    defaultValues,
  });
  const { errors, isSubmitting } = form.formState;
  const line = (name: Path<T>) => {
    const error: unknown = get(errors, `${name}.message`);
    return { ...form.register(name), error: typeof error === "string" ? error : undefined };
  };
  return { ...form, line, isSubmitting };
}

interface FormProps {
  readonly onSubmit: () => Promise<unknown>;
  /** What its button says. */
  readonly does: string;
  readonly busy: boolean;
  readonly problem?: Problem | undefined;
  /** Its button is as wide as the form. */
  readonly wide?: boolean;
  readonly children: ReactNode;
}

/** Fields, what was wrong with them as a whole, and the button that sends them. */
export function Form({ onSubmit, does, busy, problem, wide = false, children }: FormProps) {
  return (
    <form
      noValidate
      className={`grid ${wide ? "gap-3.5" : "gap-3"}`}
      onSubmit={(event) => {
        event.preventDefault();
        // it may stand in another form, which is not sent with it
        event.stopPropagation();
        void onSubmit();
      }}
    >
      {children}
      {problem && <ProblemNote problem={problem} />}
      <Press submit look="main" className={wide ? "justify-center" : "justify-self-start"} busy={busy}>
        {does}
      </Press>
    </form>
  );
}
