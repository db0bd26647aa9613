import type { QueryInterface } from "sequelize";

const SQL = `
-- the key of codes that change by the clock (RFC 6238), sealed with the workshop's own key; and the last step that was used
alter table accounts
  add second_key text,
  add second_step bigint;
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SQL);
};
