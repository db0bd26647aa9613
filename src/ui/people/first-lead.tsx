"use client";

import { yupResolver } from "@hookform/resolvers/yup";
import { useForm } from "react-hook-form";
import { object, string } from "yup";
import { Field } from "@/ui/base/field";
import { ProblemNote } from "@/ui/base/parts";
import { useEnter } from "@/ui/base/use-enter";
import { Press } from "@/ui/base/press";

const shape = object({
  code: string().trim().required("The code is missing"),
  name: string()
    .trim()
    .required("The name is missing")
    .matches(/^[a-z][a-z0-9._-]{0,38}[a-z0-9]$/, "Small letters, digits, dots and hyphens, beginning with a letter"),
  person: string().trim().max(80, "80 characters at most").default(""),
  password: string().required("The password is missing").min(12, "At least 12 characters"),
});

/** The first account of a new workshop. */
export function FirstLead({ code }: { readonly code: string }) {
  const { enter, problem } = useEnter();
  const { register, handleSubmit, formState } = useForm({
    resolver: yupResolver(shape),
    defaultValues: { code, name: "", person: "", password: "" },
  });
  const { errors, isSubmitting } = formState;
  return (
    <form
      onSubmit={(event) => void handleSubmit((values) => enter("/api/first", values))(event)}
      noValidate
      className="grid gap-3.5"
    >
      <Field
        label="Code"
        error={errors.code?.message}
        help="It stands where the workshop was started"
        {...register("code")}
        autoComplete="off"
      />
      <Field
        label="Name to sign in with"
        error={errors.name?.message}
        {...register("name")}
        autoComplete="username"
        autoCapitalize="none"
      />
      <Field
        label="What you are called, as papers will say it"
        error={errors.person?.message}
        {...register("person")}
        autoComplete="name"
      />
      <Field
        label="Password"
        type="password"
        error={errors.password?.message}
        help="Twelve characters or more"
        {...register("password")}
        autoComplete="new-password"
      />
      {problem && <ProblemNote problem={problem} />}
      <Press submit look="main" className="justify-center" busy={isSubmitting}>
        Open the workshop
      </Press>
    </form>
  );
}
