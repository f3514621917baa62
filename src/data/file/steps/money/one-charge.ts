/** Of one company and one thing that it buys, one charge at a time is under way: a second is refused by the file itself. */
export const ONE_CHARGE = `ALTER TABLE sys_checkouts ADD COLUMN subject TEXT NOT NULL DEFAULT '';
  CREATE UNIQUE INDEX sys_checkouts_charging ON sys_checkouts (company_id, subject) WHERE state = 'charging' AND company_id IS NOT NULL;
  CREATE INDEX sys_checkouts_subject ON sys_checkouts (company_id, subject, state);`;
