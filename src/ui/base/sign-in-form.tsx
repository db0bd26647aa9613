"use client";

import { yupResolver } from "@hookform/resolvers/yup";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { object, string } from "yup";
import type { Problem } from "@/core/problem";
import { send } from "@/ui/base/ask";
import { BUTTON_LOOK, FIELD_LOOK, ProblemNote } from "@/ui/base/parts";

const shape = object({
  name: string().trim().required("Your name is missing"),
  password: string().required("The password is missing"),
});
const FIELD = `${FIELD_LOOK.wide} mt-1`;

export function SignInForm() {
  const router = useRouter();
  const [problem, setProblem] = useState<Problem>();
  const { register, handleSubmit, formState } = useForm({ resolver: yupResolver(shape) });
  const submit = handleSubmit(async (values) => {
    const answer = await send("/api/sign-in", values);
    if (!answer.ok) setProblem(answer.problem);
    else {
      router.push("/");
      router.refresh();
    }
  });
  const { errors, isSubmitting } = formState;
  return (
    <form onSubmit={(event) => void submit(event)} noValidate className="grid gap-3.5">
      <label className="text-sm">
        Name
        <input
          {...register("name")}
          className={FIELD}
          autoComplete="username"
          autoCapitalize="none"
          aria-invalid={errors.name !== undefined}
        />
        {errors.name && <span className="text-clay">{errors.name.message}</span>}
      </label>
      <label className="text-sm">
        Password
        <input
          {...register("password")}
          type="password"
          className={FIELD}
          autoComplete="current-password"
          aria-invalid={errors.password !== undefined}
        />
        {errors.password && <span className="text-clay">{errors.password.message}</span>}
      </label>
      {problem && <ProblemNote problem={problem} />}
      <button
        type="submit"
        className={`${BUTTON_LOOK.main} justify-center disabled:opacity-50`}
        disabled={isSubmitting}
      >
        Sign in
      </button>
    </form>
  );
}
