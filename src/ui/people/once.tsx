/** A password that was made just now, and is shown this once. */
export function Once({ name, password }: { readonly name: string; readonly password: string }) {
  return (
    <p role="status" className="border border-straw bg-straw-wash px-3.5 py-2.5 text-sm">
      The password of {name} is <b className="key text-base select-all">{password}</b>. It is shown this once, and has
      to be replaced at the first sign-in.
    </p>
  );
}
