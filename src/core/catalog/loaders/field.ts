/** One thing that has to be known of a loader: as documents keep it, requests bring it and a form asks for it. */
interface About {
  /** Where it stands among the loader's settings; “letters.read”: in a group. */
  readonly name: string;
  /** How a form asks for it. Without it only documents say it. */
  readonly label?: string;
  /** What documents are told of it. */
  readonly says?: string;
  readonly optional?: true;
}
export type LoaderField = About &
  (
    | {
        readonly is: "number";
        readonly least?: number;
        readonly most: number;
        /** What a form says of a text that is none. */
        readonly wants?: string;
        /** What stands in a form at first. */
        readonly starts?: string;
      }
    | {
        readonly is: "text";
        /** Characters; one, where nothing is said. */
        readonly least?: 0;
        readonly most: number;
        readonly starts?: string;
      }
    | { readonly is: "flag"; readonly starts?: boolean }
  );

/** What a loader is reached over. */
export type LoaderTransport = "usb" | "serial" | "drive";

/** A kind of loader, as far as documents, requests and forms go: its protocol lies in `core/loader`. */
export interface LoaderSettings<
  K extends string = string,
  F extends readonly LoaderField[] = readonly LoaderField[],
  T extends LoaderTransport = LoaderTransport,
> {
  readonly kind: K;
  readonly transport: T;
  /** How a form names it. */
  readonly title: string;
  /** What documents are told of the kind. */
  readonly says: string;
  readonly fields: F;
}

export const loaderSettings = <
  const K extends string,
  const F extends readonly LoaderField[],
  const T extends LoaderTransport,
>(
  settings: LoaderSettings<K, F, T>,
): LoaderSettings<K, F, T> => settings;

type ValueOf<F> = F extends { is: "number" } ? number : F extends { is: "flag" } ? boolean : string;
type Split<N> = N extends `${infer G}.${infer R}` ? [G, R] : [never, N];
type Grouped<F, G> = F extends { name: `${infer A}.${infer R}` }
  ? A extends G
    ? Omit<F, "name"> & { readonly name: R }
    : never
  : never;
type Wanted<F> = F extends { optional: true } ? never : F;
type Unwanted<F> = F extends { optional: true } ? F : never;
type Plain<F> = F extends { name: `${string}.${string}` } ? never : F;
type NameOf<F> = F extends { name: infer N extends string } ? N : never;
type Named<F, N> = F extends { name: N } ? F : never;

type Flat<F> = { readonly [N in NameOf<Wanted<F>>]: ValueOf<Named<F, N>> } & {
  readonly [N in NameOf<Unwanted<F>>]?: ValueOf<Named<F, N>>;
};
/** What a document says of a loader whose fields these are. */
export type SettingsFrom<S> =
  S extends LoaderSettings<infer K, infer F>
    ? { readonly kind: K } & Flat<Plain<F[number]>> & {
          readonly [G in Split<NameOf<F[number]>>[0]]: Flat<Grouped<F[number], G>>;
        }
    : never;
