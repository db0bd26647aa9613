"use client";

import { useState } from "react";
import { object, string } from "yup";
import { Field } from "@/ui/base/field";
import { Form, useShaped } from "@/ui/base/form";
import { useEnter } from "@/ui/base/use-enter";

const shape = object({
  name: string().trim().required("Your name is missing"),
  password: string().required("The password is missing"),
  code: string(),
});

export function SignInForm() {
  const { enter, problem, works } = useEnter();
  const { line, handleSubmit, isSubmitting } = useShaped(shape, { name: "", password: "" });
  // asked for once, it stays asked for until one is in
  const [asksCode, setAsksCode] = useState(false);
  if (problem?.code === "code-wanted" && !asksCode) setAsksCode(true);
  return (
    <Form
      wide
      does="Sign in"
      busy={isSubmitting}
      problem={problem?.code === "code-wanted" ? undefined : problem}
      onSubmit={handleSubmit((values) => enter("/api/sign-in", values))}
    >
      <Field label="Name" {...line("name")} autoComplete="username" autoCapitalize="none" />
      <Field label="Password" {...line("password")} type="password" autoComplete="current-password" />
      {asksCode && (
        <Field
          label="Code"
          help="Your authenticator shows it"
          {...line("code")}
          inputMode="numeric"
          autoComplete="one-time-code"
          autoFocus
        />
      )}
      {works && (
        <p role="status" className="text-sm text-faded">
          Many attempts from your address have failed. Your browser works for a moment, then it is tried again.
        </p>
      )}
    </Form>
  );
}
