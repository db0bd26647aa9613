"use client";

import { yupResolver } from "@hookform/resolvers/yup";
import { useState } from "react";
import { useController, useForm } from "react-hook-form";
import { object, string } from "yup";
import { useAsk } from "@/ui/base/ask";
import { Field } from "@/ui/base/field";
import { ProblemNote } from "@/ui/base/parts";
import { Once } from "@/ui/people/once";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";

const shape = object({
  name: string()
    .trim()
    .required("The name is missing")
    .matches(/^[a-z][a-z0-9._-]{0,38}[a-z0-9]$/, "Small letters, digits, dots and hyphens, beginning with a letter"),
  person: string().trim().max(80, "80 characters at most").default(""),
  role: string().required(),
});

/** A new account; its password is shown once. */
export function AddPerson({ roles }: { readonly roles: readonly string[] }) {
  const { ask, busy, problem } = useAsk();
  const [made, setMade] = useState<{ name: string; password: string }>();
  const { register, handleSubmit, formState, reset, control } = useForm({
    resolver: yupResolver(shape),
    defaultValues: { name: "", person: "", role: "technician" },
  });
  const role = useController({ control, name: "role" }).field;
  const submit = handleSubmit(async (values) => {
    const done = await ask<{ name: string; password: string }>("/api/accounts", values);
    setMade(done);
    if (done) reset();
  });
  const { errors } = formState;
  return (
    <form onSubmit={(event) => void submit(event)} noValidate className="grid gap-3">
      <Field
        label="Name to sign in with"
        error={errors.name?.message}
        {...register("name")}
        autoCapitalize="none"
        autoComplete="off"
      />
      <Field
        label="What they are called, as papers will say it"
        error={errors.person?.message}
        {...register("person")}
        autoComplete="off"
      />
      <Select
        label="Role"
        value={role.value}
        options={roles.map((each) => ({ value: each, text: each }))}
        onValue={role.onChange}
      />
      {problem && <ProblemNote problem={problem} />}
      {made && <Once {...made} />}
      <Press submit look="main" className="justify-self-start" busy={busy}>
        Add the account
      </Press>
    </form>
  );
}
