/** How large a file may be that somebody brings, in bytes, by what it is. */
export const READOUT_BYTES = 4_000_000;
export const DOCUMENT_BYTES = 2_000_000;
export const IMAGE_BYTES = 12_000_000;
export const ARCHIVE_BYTES = 20_000_000;

/** No body of any request is larger: nothing in between cuts one off before whoever reads it has told its limit. */
export const BODY_BYTES = ARCHIVE_BYTES + 2_000_000;
