"use client";

import { yupResolver } from "@hookform/resolvers/yup";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { object, ref, string } from "yup";
import { useAsk } from "@/ui/base/ask";
import { Field } from "@/ui/base/field";
import { ProblemNote } from "@/ui/base/parts";
import { useEnter } from "@/ui/base/use-enter";
import { Press } from "@/ui/base/press";

const shape = object({
  old: string().required("The password so far is missing"),
  wanted: string().required("The new password is missing").min(12, "At least 12 characters"),
  again: string()
    .required("Type it once more")
    .oneOf([ref("wanted")], "The two are not the same"),
});

/** One's own password. `atTheDoor`: it has to be replaced before anything else, and leads in. */
export function OwnPassword({ atTheDoor = false }: { readonly atTheDoor?: boolean }) {
  const { enter, problem: refused } = useEnter();
  const { ask, problem } = useAsk();
  const [done, setDone] = useState(false);
  const { register, handleSubmit, formState, reset } = useForm({
    resolver: yupResolver(shape),
    defaultValues: { old: "", wanted: "", again: "" },
  });
  const submit = handleSubmit(async ({ old, wanted }) => {
    if (atTheDoor) return enter("/api/me/password", { old, wanted });
    setDone(false);
    if (!(await ask("/api/me/password", { old, wanted }))) return;
    reset();
    setDone(true);
  });
  const { errors, isSubmitting } = formState;
  const shown = problem ?? refused;
  return (
    <form onSubmit={(event) => void submit(event)} noValidate className="grid gap-3">
      <Field
        label="Password so far"
        type="password"
        error={errors.old?.message}
        {...register("old")}
        autoComplete="current-password"
      />
      <Field
        label="New password"
        type="password"
        error={errors.wanted?.message}
        help="Twelve characters or more; several words are better than one with signs in it"
        {...register("wanted")}
        autoComplete="new-password"
      />
      <Field
        label="New password once more"
        type="password"
        error={errors.again?.message}
        {...register("again")}
        autoComplete="new-password"
      />
      {shown && <ProblemNote problem={shown} />}
      {done && (
        <p role="status" className="text-sm">
          Your password is changed. Whoever else was signed in as you is out.
        </p>
      )}
      <Press submit look="main" className="justify-center" busy={isSubmitting}>
        Change it
      </Press>
    </form>
  );
}
