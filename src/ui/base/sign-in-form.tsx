"use client";

import { yupResolver } from "@hookform/resolvers/yup";
import { useForm } from "react-hook-form";
import { object, string } from "yup";
import { Field } from "@/ui/base/field";
import { ProblemNote, SUBMIT_LOOK } from "@/ui/base/parts";
import { useEnter } from "@/ui/base/use-enter";

const shape = object({
  name: string().trim().required("Your name is missing"),
  password: string().required("The password is missing"),
});

export function SignInForm() {
  const { enter, problem } = useEnter();
  const { register, handleSubmit, formState } = useForm({ resolver: yupResolver(shape) });
  const { errors, isSubmitting } = formState;
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
      {problem && <ProblemNote problem={problem} />}
      <button type="submit" className={SUBMIT_LOOK} disabled={isSubmitting}>
        Sign in
      </button>
    </form>
  );
}
