import { hash, verify } from "@node-rs/argon2";
import { ZxcvbnFactory } from "@zxcvbn-ts/core";
import { adjacencyGraphs, dictionary } from "@zxcvbn-ts/language-common";
import { randomInt } from "node:crypto";
import { ProblemError } from "@/core/problem";

/** Argon2id (RFC 9106) with the second recommended set scaled to a small server: 19 MiB, 2 passes. */
const ARGON = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

export const hashPassword = (password: string): Promise<string> => hash(password, ARGON);
export const fitsHash = (password: string, kept: string): Promise<boolean> => verify(kept, password);

export const PASSWORD_LEAST = 12;
export const PASSWORD_MOST = 128;
/** So much has to be left when the account's own names are taken out. */
const REST_LEAST = 8;
/** Of zxcvbn's five steps, from 0: “safely unguessable” begins here. */
const GOOD_SCORE = 3;

let strength: ZxcvbnFactory | undefined;

/** As people count them: one for each character that a person sees (Unicode, UAX 29). */
const charactersOf = (text: string): number => [...new Intl.Segmenter("en").segment(text)].length;

/** Refuses what is short, widely used, or made of what everybody knows of this account. */
export function checkPassword(password: string, known: readonly string[]): void {
  const refuse = (detail: string) => {
    throw new ProblemError({
      code: "password-weak",
      message: "This password is too easy to guess",
      detail,
      hint: "Take several words that have nothing to do with each other, or one that a password keeper made",
    });
  };
  const length = charactersOf(password);
  if (length < PASSWORD_LEAST) refuse(`It has ${length} characters; at least ${PASSWORD_LEAST} are wanted`);
  if (length > PASSWORD_MOST) refuse(`It has ${length} characters; at most ${PASSWORD_MOST} are taken`);
  const rest = known
    .flatMap((text) => text.toLowerCase().split(/\s+/))
    .filter((word) => word.length > 2)
    .reduce((text, word) => text.replaceAll(word, ""), password.toLowerCase());
  if (charactersOf(rest) < REST_LEAST) refuse("It is little more than a name that everybody here knows");
  strength ??= new ZxcvbnFactory({ dictionary: { ...dictionary }, graphs: adjacencyGraphs });
  const { score, feedback } = strength.check(password, ["fresh start", "drone", ...known.filter(Boolean)]);
  if (score < GOOD_SCORE) refuse(feedback.warning ?? "It is made of well-known words, names, dates or rows of keys");
}

const LETTERS = "abcdefghjkmnpqrstuvwxyz23456789";

/** A password to be read from a screen and typed once: four groups, no letters that look alike, 99 bits. */
export const newPassword = (): string =>
  Array.from({ length: 4 }, () => Array.from({ length: 5 }, () => LETTERS[randomInt(LETTERS.length)]).join("")).join(
    "-",
  );
