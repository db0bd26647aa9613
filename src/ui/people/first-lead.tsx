"use client";

import { object, string } from "yup";
import { Field } from "@/ui/base/field";
import { Form, useShaped } from "@/ui/base/form";
import { useEnter } from "@/ui/base/use-enter";
import { accountName, personName } from "@/ui/people/names";

const shape = object({
  code: string().trim().required("The code is missing"),
  name: accountName(),
  person: personName(),
  password: string().required("The password is missing").min(12, "At least 12 characters"),
});

/** The first account of a new workshop. */
export function FirstLead({ code }: { readonly code: string }) {
  const { enter, problem } = useEnter();
  const { line, handleSubmit, isSubmitting } = useShaped(shape, { code, name: "", person: "", password: "" });
  return (
    <Form
      wide
      does="Open the workshop"
      busy={isSubmitting}
      problem={problem}
      onSubmit={handleSubmit((values) => enter("/api/first", values))}
    >
      <Field label="Code" help="It stands where the workshop was started" {...line("code")} autoComplete="off" />
      <Field label="Name to sign in with" {...line("name")} autoComplete="username" autoCapitalize="none" />
      <Field label="What you are called, as papers will say it" {...line("person")} autoComplete="name" />
      <Field
        label="Password"
        type="password"
        help="Twelve characters or more"
        {...line("password")}
        autoComplete="new-password"
      />
    </Form>
  );
}
