/** SHA-256 (FIPS 180-4) in hex. */
export async function sha256(bytes: Uint8Array): Promise<string> {
  const digest = await crypto.subtle.digest("SHA-256", new Uint8Array(bytes));
  return [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}
export const hashText = (text: string): Promise<string> => sha256(new TextEncoder().encode(text));
