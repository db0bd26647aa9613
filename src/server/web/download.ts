/** A file to be kept, by a name that every system takes. */
export const download = (name: string, type: string, body: string | Uint8Array): Response =>
  new Response(typeof body === "string" ? body : new Uint8Array(body).buffer, {
    headers: {
      "Content-Type": type,
      "Content-Disposition": `attachment; filename="${name.replace(/[^A-Za-z0-9 ._-]/g, "-")}"`,
    },
  });
