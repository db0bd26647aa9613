"use client";

import { useState } from "react";
import { object, ref, string } from "yup";
import { useAsk } from "@/ui/base/ask";
import { Field } from "@/ui/base/field";
import { Form, useShaped } from "@/ui/base/form";
import { useEnter } from "@/ui/base/use-enter";

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
  const { line, handleSubmit, isSubmitting, reset } = useShaped(shape, { old: "", wanted: "", again: "" });
  const submit = handleSubmit(async ({ old, wanted }) => {
    if (atTheDoor) return enter("/api/me/password", { old, wanted });
    setDone(false);
    if (!(await ask("/api/me/password", { old, wanted }))) return;
    reset();
    setDone(true);
  });
  return (
    <Form wide does="Change it" busy={isSubmitting} problem={problem ?? refused} onSubmit={submit}>
      <Field label="Password so far" type="password" {...line("old")} autoComplete="current-password" />
      <Field
        label="New password"
        type="password"
        help="Twelve characters or more; several words are better than one with signs in it"
        {...line("wanted")}
        autoComplete="new-password"
      />
      <Field label="New password once more" type="password" {...line("again")} autoComplete="new-password" />
      {done && (
        <p role="status" className="text-sm">
          Your password is changed. Whoever else was signed in as you is out.
        </p>
      )}
    </Form>
  );
}
