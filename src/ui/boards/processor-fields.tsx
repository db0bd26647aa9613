import { useController, type Control, type FieldErrors, type UseFormRegister } from "react-hook-form";
import { Field } from "@/ui/base/field";
import { LOADERS, type BoardForm, type LoaderKind } from "@/ui/boards/board-form";
import { Tick } from "@/ui/base/tick";
import { TextBox } from "@/ui/base/text-box";

interface Fields {
  readonly register: UseFormRegister<BoardForm>;
  readonly errors: FieldErrors<BoardForm>;
}

/** How the flash of an unknown processor is parted. */
export function ProcessorFields({ register, errors }: Fields) {
  return (
    <div className="grid grid-cols-2 gap-3 max-md:grid-cols-1">
      <Field label="Its flash begins at" error={errors.flashStart?.message} {...register("flashStart")} />
      <div className="row-span-2">
        <TextBox
          label="Its sectors, from the first on"
          rows={4}
          className="key"
          placeholder={"4 x 16 KB\n1 x 64 KB\n7 x 128 KB"}
          error={errors.sectors?.message}
          {...register("sectors")}
        />
      </div>
      <Field
        label="Settings are kept in sectors"
        error={errors.settingsSectors?.message}
        help="counted from 0"
        {...register("settingsSectors")}
      />
      <Field
        label="The firmware begins with sector"
        error={errors.applicationSector?.message}
        {...register("applicationSector")}
      />
      <Field
        label="Words of its chip id"
        error={errors.chipIdWords?.message}
        {...register("chipIdWords")}
        inputMode="numeric"
      />
      <Field
        label="Which of them its loader shows"
        error={errors.loaderIdWords?.message}
        help="counted from 0"
        {...register("loaderIdWords")}
      />
    </div>
  );
}

type Named = readonly (readonly [string, string])[];

const USB: Named = [
  ["vendorId", "Vendor id"],
  ["productId", "Product id"],
  ["transferSizeBytes", "Bytes in one transfer"],
  ["segmentName", "What it calls a segment"],
  ["settingsName", "What it calls the settings"],
];
const SERIAL: Named = [
  ["baud", "Bits a second"],
  ["identityLetter", "Letter that asks who it is"],
  ["readLetter", "Letter that reads"],
  ["writeLetter", "Letter that writes"],
  ["startLetter", "Letter that starts the firmware"],
  ["identity", "Its answer to who it is"],
  ["done", "Its answer when it is done"],
  ["refused", "Its answer when it is not"],
];
const DRIVE: Named = [
  ["vendorId", "Vendor id"],
  ["productId", "Product id"],
  ["familyId", "Family id of its blocks"],
  ["holds", "File that shows what it holds, if any"],
];
const FIELDS: Readonly<Record<LoaderKind, Named>> = { usb: USB, serial: SERIAL, drive: DRIVE };

/** Through which loaders an unknown processor is flashed, each with what has to be known of it. */
export function LoaderFields({ register, errors, control }: Fields & { readonly control: Control<BoardForm> }) {
  const chosen = useController({ control, name: "kinds" }).field;
  const canUpload = useController({ control, name: "usb.canUpload" }).field;
  const kinds = chosen.value;
  const messageOf = (kind: LoaderKind, name: string) =>
    (errors[kind] as Readonly<Record<string, { readonly message?: string } | undefined>> | undefined)?.[name]?.message;
  return (
    <fieldset className="grid gap-2">
      <legend className="font-semibold">Its loaders</legend>
      {errors.kinds && <p className="text-sm text-clay">{errors.kinds.message}</p>}
      {(Object.keys(LOADERS) as LoaderKind[]).map((kind) => (
        <div key={kind}>
          <Tick
            label={LOADERS[kind].title}
            checked={kinds.includes(kind)}
            onChecked={(checked) => chosen.onChange(checked ? [...kinds, kind] : kinds.filter((each) => each !== kind))}
          />
          {kinds.includes(kind) && (
            <div className="mt-2 mb-3 ml-6 grid grid-cols-2 gap-3 max-md:grid-cols-1">
              {FIELDS[kind].map(([name, label]) => (
                <Field
                  key={name}
                  label={label}
                  error={messageOf(kind, name)}
                  {...register(`${kind}.${name}` as "usb.vendorId")}
                />
              ))}
              {kind === "usb" && (
                <Tick label="What it holds can be read back" checked={canUpload.value} onChecked={canUpload.onChange} />
              )}
            </div>
          )}
        </div>
      ))}
    </fieldset>
  );
}
