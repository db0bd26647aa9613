"use client";

import { yupResolver } from "@hookform/resolvers/yup";
import { Link } from "@/ui/base/link";
import { useState } from "react";
import { useForm, useWatch, type Resolver } from "react-hook-form";
import type { MadeDocument } from "@/core/learn";
import { useAsk } from "@/ui/base/ask";
import { Field } from "@/ui/base/field";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { askedOf, EMPTY_FORM, shapeFor, type BoardForm } from "@/ui/boards/board-form";
import { LoaderFields, ProcessorFields } from "@/ui/boards/processor-fields";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { Tick } from "@/ui/base/tick";
import { Folded } from "@/ui/base/folded";

interface NewBoardProps {
  readonly releases: readonly {
    readonly id: string;
    readonly title: string;
    /** Targets that read-outs name and the release does not have. */
    readonly unknown: readonly string[];
  }[];
  readonly release: string;
  readonly processors: readonly { readonly id: string; readonly loaders: readonly string[] }[];
  readonly mayKeep: boolean;
}

interface Made {
  readonly documents: readonly MadeDocument[];
  readonly kept: readonly { readonly id: string; readonly version: number }[];
}

const KIND_SAYS: Readonly<Record<MadeDocument["kind"], string>> = {
  processor: "The processor",
  "board-model": "The board",
  release: "The release, with one more target",
};

/** A board by a form that asks for what the work at hand needs; what comes of it are documents. */
export function NewBoard({ releases, release, processors, mayKeep }: NewBoardProps) {
  const { ask, busy, problem } = useAsk();
  const [made, setMade] = useState<Made>();
  const knows = (name: string) => processors.some(({ id }) => id === name.trim());
  const resolver: Resolver<BoardForm> = (values, context, options) =>
    (yupResolver(shapeFor(values, knows(values.processor))) as unknown as Resolver<BoardForm>)(
      values,
      context,
      options,
    );
  const { register, handleSubmit, formState, control, setValue } = useForm<BoardForm>({
    resolver,
    defaultValues: {
      ...EMPTY_FORM,
      releaseId: release,
      target: releases.find(({ id }) => id === release)?.unknown[0] ?? "",
    },
  });
  const [releaseId, processor, flash, bootButton, bootPads] = useWatch({
    control,
    name: ["releaseId", "processor", "flash", "bootButton", "bootPads"],
  });
  const { errors } = formState;
  const chip = processors.find(({ id }) => id === processor.trim());
  const asksProcessor = processor.trim() !== "" && !chip;
  const submit = (keep: boolean) =>
    handleSubmit(async (values) => {
      const done = await ask<Made>("/api/boards", askedOf(values, knows(values.processor), keep));
      if (done) setMade(done);
    });
  const error = (name: Exclude<keyof BoardForm, "loaders">) => errors[name]?.message;
  const unknown = releases.find(({ id }) => id === releaseId)?.unknown ?? [];
  return (
    <div className="grid grid-cols-2 items-start gap-5 max-lg:grid-cols-1">
      <form noValidate className="grid min-w-0 gap-4" onSubmit={(event) => void submit(false)(event)}>
        <Sheet label="The board" className="grid gap-3 px-4 py-3.5">
          <h2>1. The board</h2>
          <div className="grid grid-cols-2 gap-3 max-md:grid-cols-1">
            <Select
              label="Runs release"
              look="wide"
              value={releaseId}
              options={releases.map(({ id, title }) => ({ value: id, text: title }))}
              onValue={(next) => setValue("releaseId", next)}
            />
            <Field
              label="What its console calls it"
              error={error("target")}
              list="unknown-targets"
              {...(unknown.length === 0 ? {} : { help: `read-outs say: ${unknown.join(", ")}` })}
              {...register("target")}
            />
            <datalist id="unknown-targets">
              {unknown.map((target) => (
                <option key={target} value={target} />
              ))}
            </datalist>
            <Field label="Its name" error={error("title")} {...register("title")} />
            <Field label="Its maker" error={error("maker")} {...register("maker")} />
            <Field label="Revision" error={error("revision")} {...register("revision")} />
            <Field label="Printed on it, if not its name" error={error("printed")} {...register("printed")} />
            <Field label="Its processor" error={error("processor")} list="processors" {...register("processor")} />
            <datalist id="processors">
              {processors.map(({ id }) => (
                <option key={id} value={id} />
              ))}
            </datalist>
            <Field label="Its serial ports" error={error("ports")} {...register("ports")} />
            <Field label="Vendor id while it runs" error={error("vendorId")} {...register("vendorId")} />
            <Field label="Product id while it runs" error={error("productId")} {...register("productId")} />
          </div>
          <div className="flex flex-wrap gap-x-5 gap-y-1 text-sm">
            <Tick
              label="It has a boot button"
              checked={bootButton}
              onChecked={(checked) => setValue("bootButton", checked)}
            />
            <Tick label="It has boot pads" checked={bootPads} onChecked={(checked) => setValue("bootPads", checked)} />
            <Tick
              label="It is to be flashed as well"
              checked={flash}
              onChecked={(checked) => setValue("flash", checked)}
            />
          </div>
        </Sheet>
        {chip && flash && (
          <p className="text-sm">
            <StateShape shape={chip.loaders.length > 0 ? "disc" : "triangle"} />{" "}
            {chip.loaders.length > 0
              ? `How ${chip.id} is flashed is known: nothing more is asked.`
              : `${chip.id} is known without a loader: add one to its document.`}
          </p>
        )}
        {asksProcessor && (
          <Sheet label="Its processor" className="grid gap-3 px-4 py-3.5">
            <h2>2. Its processor, which the workshop does not know</h2>
            <p className="text-sm text-faded">
              A restore is played in advance on a twin of the board, which keeps its settings as this flash would.
            </p>
            <ProcessorFields register={register} errors={errors} />
            {flash && <LoaderFields register={register} errors={errors} control={control} />}
          </Sheet>
        )}
        <Press submit look="main" className="justify-self-start" busy={busy}>
          Look at its documents
        </Press>
      </form>
      <div className="grid min-w-0 gap-3">
        {problem && <ProblemNote problem={problem} />}
        {made && (
          <Sheet label="What comes of it" className="grid gap-3 px-4 py-3.5">
            <h2>{made.kept.length > 0 ? "Its documents are in." : "What comes of it"}</h2>
            {made.documents.map(({ kind, id, text }) => (
              <Folded key={kind} opened={kind !== "release"} look="link" head={`${KIND_SAYS[kind]}: ${id}`}>
                <pre
                  tabIndex={0}
                  aria-label={`Document of ${id}`}
                  className="mt-1 max-h-72 overflow-auto bg-paper p-2 key text-[12.5px]"
                >
                  {text}
                </pre>
              </Folded>
            ))}
            {made.kept.length > 0 ? (
              <p role="status">
                <StateShape shape="disc" /> {made.kept.map(({ id, version }) => `${id} v${version}`).join(", ")}.{" "}
                <Link href="/boards">All boards</Link>
              </p>
            ) : mayKeep ? (
              <Press
                look="main"
                className="justify-self-start"
                busy={busy}
                onClick={(event) => void submit(true)(event)}
              >
                Keep them
              </Press>
            ) : (
              <p className="text-sm text-faded">The lead technician keeps documents.</p>
            )}
          </Sheet>
        )}
      </div>
    </div>
  );
}
