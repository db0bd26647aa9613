import type { QueryInterface } from "sequelize";

const SQL = `
-- bays are numbered through the workshop, whichever machine they are on
create unique index bays_no on bays (no);
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SQL);
};
