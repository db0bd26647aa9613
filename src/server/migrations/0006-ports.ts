import type { QueryInterface } from "sequelize";

const SQL = `
-- a bay may be a serial port of the bench's machine; without one it is a simulated socket
alter table bays add port text check (length(port) between 1 and 200);
-- the serial ports that the machine has, as the bench saw them last
alter table benches add ports jsonb not null default '[]';
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SQL);
};
