import { get, useController, type Control, type FieldErrors, type UseFormRegister } from "react-hook-form";
import { Field } from "@/ui/base/field";
import { LOADER_SETTINGS, type LoaderField } from "@/core/catalog/loaders";
import { askedFields, type BoardForm } from "@/ui/boards/board-form";
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

/** Through which loaders an unknown processor is flashed, each with what has to be known of it. */
export function LoaderFields({ register, errors, control }: Fields & { readonly control: Control<BoardForm> }) {
  const { value: kinds, onChange } = useController({ control, name: "kinds" }).field;
  return (
    <fieldset className="grid gap-2">
      <legend className="font-semibold">Its loaders</legend>
      {errors.kinds && <p className="text-sm text-clay">{errors.kinds.message}</p>}
      {LOADER_SETTINGS.map((each) => (
        <div key={each.kind}>
          <Tick
            label={each.title}
            checked={kinds.includes(each.kind)}
            onChecked={(checked) =>
              onChange(checked ? [...kinds, each.kind] : kinds.filter((kind) => kind !== each.kind))
            }
          />
          {kinds.includes(each.kind) && (
            <div className="mt-2 mb-3 ml-6 grid grid-cols-2 gap-3 max-md:grid-cols-1">
              {askedFields(each).map((field) => (
                <Asked
                  key={field.name}
                  {...{ field, register, errors, control }}
                  path={`loaders.${each.kind}.${field.name}`}
                />
              ))}
            </div>
          )}
        </div>
      ))}
    </fieldset>
  );
}

/** One thing that has to be known of a loader: a line, or a tick. */
function Asked({
  field: { is, name, label = name },
  path,
  register,
  errors,
  control,
}: Fields & { readonly control: Control<BoardForm>; readonly field: LoaderField; readonly path: string }) {
  // the form's own type knows of no kind of loader by its name
  const at = path as "loaders.usb";
  if (is === "flag") return <AskedTick label={label} name={at} control={control} />;
  const error: unknown = get(errors, `${path}.message`);
  return <Field label={label} error={typeof error === "string" ? error : undefined} {...register(at)} />;
}

function AskedTick({
  label,
  name,
  control,
}: {
  readonly label: string;
  readonly name: "loaders.usb";
  readonly control: Control<BoardForm>;
}) {
  const { value, onChange } = useController({ control, name }).field;
  return <Tick label={label} checked={(value as unknown) === true} onChecked={onChange} />;
}
