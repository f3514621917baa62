/** What the rules said of a table or field when it was put away: its grants come back with it. */
export const AWAY_RULES = `ALTER TABLE sys_tables ADD COLUMN away_rules TEXT;
  ALTER TABLE sys_fields ADD COLUMN away_rules TEXT;`;
