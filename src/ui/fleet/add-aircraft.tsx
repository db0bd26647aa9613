"use client";

import { yupResolver } from "@hookform/resolvers/yup";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { object, string } from "yup";
import { useAsk } from "@/ui/base/ask";
import { BUTTON_LOOK, ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Field } from "@/ui/base/field";

const shape = object({
  tag: string()
    .trim()
    .matches(/^[A-Z0-9][A-Z0-9-]{0,15}$/, "Capital letters, digits and hyphens, 16 at most")
    .required("The tag is missing"),
  type: string().trim().max(40, "40 characters at most").required("The type is missing"),
  label: string().trim().max(80, "80 characters at most").default(""),
});

const FIELDS = [
  ["tag", "Tag"],
  ["type", "Type"],
  ["label", "What it does"],
] as const;

/** A new aircraft of the register. `types` are those that the fleet has already; `tag` is asked for where it is missed. */
export function AddAircraft({
  types,
  tag = "",
  onAdded,
}: {
  readonly types: readonly string[];
  readonly tag?: string;
  readonly onAdded?: () => void;
}) {
  const [open, setOpen] = useState(false);
  const { ask, busy, problem, clear } = useAsk();
  const { register, handleSubmit, formState, reset } = useForm({
    resolver: yupResolver(shape),
    defaultValues: { tag, type: "", label: "" },
  });
  const submit = handleSubmit(async (values) => {
    if (!(await ask("/api/aircraft", values))) return;
    setOpen(false);
    reset();
    onAdded?.();
  });
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(wanted) => {
        setOpen(wanted);
        clear();
      }}
    >
      <Dialog.Trigger className={BUTTON_LOOK.plain}>
        {tag === "" ? "Add aircraft" : `Add ${tag} to the register`}
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-ink/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[16vh] left-1/2 z-30 w-[min(26rem,94vw)] -translate-x-1/2 border border-ink bg-sheet p-6"
        >
          <Dialog.Title className="mb-3">Add an aircraft</Dialog.Title>
          <form
            onSubmit={(event) => {
              // it may stand in another form, which is not sent with it
              event.stopPropagation();
              void submit(event);
            }}
            noValidate
            className="grid gap-3"
          >
            {FIELDS.map(([name, label]) => (
              <Field
                key={name}
                label={label}
                error={formState.errors[name]?.message}
                {...register(name)}
                {...(name === "type" ? { list: "known-types" } : {})}
              />
            ))}
            <datalist id="known-types">
              {types.map((type) => (
                <option key={type} value={type} />
              ))}
            </datalist>
            {problem && <ProblemNote problem={problem} />}
            <div className="flex justify-end gap-2">
              <Dialog.Close className={BUTTON_LOOK.plain}>Cancel</Dialog.Close>
              <Press submit look="main" busy={busy}>
                Add it
              </Press>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
