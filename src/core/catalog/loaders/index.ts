import { DRIVE } from "@/core/catalog/loaders/drive";
import type { LoaderSettings, LoaderTransport, SettingsFrom } from "@/core/catalog/loaders/field";
import { SERIAL } from "@/core/catalog/loaders/serial";
import { USB } from "@/core/catalog/loaders/usb";

export type { LoaderField, LoaderSettings, LoaderTransport } from "@/core/catalog/loaders/field";

const ALL = [USB, SERIAL, DRIVE] as const;
/** Every kind of loader that a processor can have: one file each, one row here. */
export const LOADER_SETTINGS: readonly LoaderSettings[] = ALL;

export type DriveLoader = SettingsFrom<typeof DRIVE>;
export type UsbLoader = SettingsFrom<typeof USB>;
export type SerialLoader = SettingsFrom<typeof SERIAL>;
export type ProcessorLoader = SettingsFrom<(typeof ALL)[number]>;

/** Over what each kind is reached, by its kind. */
export type TransportOf<K extends ProcessorLoader["kind"]> = Extract<(typeof ALL)[number], { kind: K }>["transport"];

const TRANSPORTS = new Map<string, LoaderTransport>(ALL.map(({ kind, transport }) => [kind, transport]));
/** What a kind of loader is reached over. */
export const transportOf = (kind: ProcessorLoader["kind"]): LoaderTransport | undefined => TRANSPORTS.get(kind);
