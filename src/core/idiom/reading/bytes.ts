import type { Catalogue, Firmware } from "@/core/catalog";
import { idiomOf } from "@/core/idiom/definition/definition";
import {
  candidatesFor,
  readTextAs,
  recogniseText,
  type Candidate,
  type Recognised,
} from "@/core/idiom/reading/recognise";
import type { ReadAs } from "@/core/idiom/reading/recital";
import { ok, refuse, type Result } from "@/core/problem";

const strict = new TextDecoder("utf-8", { fatal: true });
const lenient = new TextDecoder("utf-8");
/** Line noise breaks a character here and there; what is less whole than this is no text. */
const MOST_BROKEN_SHARE = 0.02;

/** Bytes as UTF-8; undefined where they are none. */
function asUtf8(raw: Uint8Array): string | undefined {
  try {
    return strict.decode(raw);
  } catch {
    return undefined;
  }
}

/** ISO 8859-1: each byte is the character of its number. */
function asLatin1(raw: Uint8Array): string {
  let text = "";
  for (let at = 0; at < raw.length; at += 8192) text += String.fromCharCode(...raw.subarray(at, at + 8192));
  return text;
}

/**
 * The text of bytes that somebody brought, or that a board sent. Bytes that are no UTF-8 stand as U+FFFD: damage to their
 * lines. Refuses what is broken all over.
 */
export function textOfBytes(raw: Uint8Array): Result<string> {
  const whole = asUtf8(raw);
  if (whole !== undefined) return ok(whole);
  const text = lenient.decode(raw);
  const broken = text.match(/\ufffd/g)?.length ?? 0;
  return broken <= text.length * MOST_BROKEN_SHARE
    ? ok(text)
    : refuse({
        code: "backup-binary",
        message: "The file is not a text",
        detail: "Its bytes are not UTF-8",
        hint: "A read-out is what the console printed, as plain text",
      });
}

/**
 * Reads bytes as read-outs of whichever idiom understands them. What is no UTF-8 may be of a language that writes in
 * Latin-1, where the workshop has one.
 */
export function recogniseRaw(raw: Uint8Array, catalogue: Catalogue, as?: ReadAs): Result<Recognised> {
  if (as) {
    const text = textFor(raw, as.release, catalogue);
    return text.ok ? readTextAs(text.value, catalogue, as) : text;
  }
  const oneByte = [...catalogue.idioms.values()].some((document) => idiomOf(document).text.encoding === "latin-1");
  if (oneByte && asUtf8(raw) === undefined) {
    const recognised = recogniseText(asLatin1(raw), catalogue);
    if (recognised.ok && recognised.value.recital.idiom.text.encoding === "latin-1") return recognised;
  }
  const text = textOfBytes(raw);
  return text.ok ? recogniseText(text.value, catalogue) : text;
}

/** The text of bytes in the encoding of a release's language. */
function textFor(raw: Uint8Array, release: Firmware, { idioms }: Catalogue): Result<string> {
  const document = idioms.get(release.idiom);
  const oneByte = document !== undefined && idiomOf(document).text.encoding === "latin-1" && asUtf8(raw) === undefined;
  return oneByte ? ok(asLatin1(raw)) : textOfBytes(raw);
}

/** Every release that bytes may be read as, in any language of the catalogue. */
export function candidatesForRaw(raw: Uint8Array, catalogue: Catalogue): Candidate[] {
  const text = textOfBytes(raw);
  return candidatesFor(text.ok ? text.value : asLatin1(raw), catalogue);
}
