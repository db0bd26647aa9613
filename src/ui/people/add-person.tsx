"use client";

import { useState } from "react";
import { useController } from "react-hook-form";
import { object, string } from "yup";
import { useAsk } from "@/ui/base/ask";
import { Field } from "@/ui/base/field";
import { Form, useShaped } from "@/ui/base/form";
import { Select } from "@/ui/base/select";
import { accountName, personName } from "@/ui/people/names";
import { Once } from "@/ui/people/once";

const shape = object({ name: accountName(), person: personName(), role: string().required() });

/** A new account; its password is shown once. */
export function AddPerson({ roles }: { readonly roles: readonly string[] }) {
  const { ask, busy, problem } = useAsk();
  const [made, setMade] = useState<{ name: string; password: string }>();
  const { line, handleSubmit, reset, control } = useShaped(shape, { name: "", person: "", role: "technician" });
  const role = useController({ control, name: "role" }).field;
  const submit = handleSubmit(async (values) => {
    const done = await ask<{ name: string; password: string }>("/api/accounts", values);
    setMade(done);
    if (done) reset();
  });
  return (
    <Form does="Add the account" busy={busy} problem={problem} onSubmit={submit}>
      <Field label="Name to sign in with" {...line("name")} autoCapitalize="none" autoComplete="off" />
      <Field label="What they are called, as papers will say it" {...line("person")} autoComplete="off" />
      <Select
        label="Role"
        value={role.value}
        options={roles.map((each) => ({ value: each, text: each }))}
        onValue={role.onChange}
      />
      {made && <Once {...made} />}
    </Form>
  );
}
