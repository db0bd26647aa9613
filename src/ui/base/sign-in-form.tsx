"use client";

import { yupResolver } from "@hookform/resolvers/yup";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { object, string } from "yup";
import { Field } from "@/ui/base/field";
import { ProblemNote } from "@/ui/base/parts";
import { useEnter } from "@/ui/base/use-enter";
import { Press } from "@/ui/base/press";

const shape = object({
  name: string().trim().required("Your name is missing"),
  password: string().required("The password is missing"),
  code: string(),
});

export function SignInForm() {
  const { enter, problem, works } = useEnter();
  const { register, handleSubmit, formState } = useForm({ resolver: yupResolver(shape) });
  const { errors, isSubmitting } = formState;
  // asked for once, it stays asked for until one is in
  const [asksCode, setAsksCode] = useState(false);
  if (problem?.code === "code-wanted" && !asksCode) setAsksCode(true);
  return (
    <form
      onSubmit={(event) => void handleSubmit((values) => enter("/api/sign-in", values))(event)}
      noValidate
      className="grid gap-3.5"
    >
      <Field
        label="Name"
        error={errors.name?.message}
        {...register("name")}
        autoComplete="username"
        autoCapitalize="none"
      />
      <Field
        label="Password"
        error={errors.password?.message}
        {...register("password")}
        type="password"
        autoComplete="current-password"
      />
      {asksCode && (
        <Field
          label="Code"
          error={undefined}
          help="Your authenticator shows it"
          {...register("code")}
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
      {problem && problem.code !== "code-wanted" && <ProblemNote problem={problem} />}
      <Press submit look="main" className="justify-center" busy={isSubmitting}>
        Sign in
      </Press>
    </form>
  );
}
