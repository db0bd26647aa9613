/** The number of a row as an address has it; 0, which no row has, for whatever PostgreSQL's integer could not be. */
export const rowId = (text: string | undefined): number => {
  const id = /^[1-9]\d{0,9}$/.test(text ?? "") ? Number(text) : 0;
  return id < 2 ** 31 ? id : 0;
};
