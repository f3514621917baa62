/**
 * How much of an allowance is used, as a number beside the ledger's lines: asking costs the same after thousands as after one. Triggers
 * keep it, so that nobody who writes a line, moves it to another company or takes it back can forget it.
 */
const ONE_MORE = `INSERT INTO sys_allowance_counts (company_id, table_id, month, n) VALUES (new.company_id, new.table_id, new.month, 1)
     ON CONFLICT (company_id, table_id, month) DO UPDATE SET n = n + 1;`;
const ONE_LESS = `UPDATE sys_allowance_counts SET n = n - 1 WHERE company_id = old.company_id AND table_id = old.table_id AND month = old.month;`;

export const ALLOWANCE_COUNTS = `CREATE TABLE sys_allowance_counts (company_id TEXT NOT NULL, table_id TEXT NOT NULL, month TEXT NOT NULL, n INTEGER NOT NULL CHECK (n >= 0), PRIMARY KEY (company_id, table_id, month)) STRICT, WITHOUT ROWID;
   INSERT INTO sys_allowance_counts SELECT company_id, table_id, month, count(*) FROM sys_allowance_uses GROUP BY company_id, table_id, month;
   DROP INDEX sys_allowance_uses_month;
   CREATE TRIGGER sys_allowance_uses_added AFTER INSERT ON sys_allowance_uses BEGIN ${ONE_MORE} END;
   CREATE TRIGGER sys_allowance_uses_removed AFTER DELETE ON sys_allowance_uses BEGIN ${ONE_LESS} END;
   CREATE TRIGGER sys_allowance_uses_moved AFTER UPDATE OF company_id, table_id, month ON sys_allowance_uses BEGIN ${ONE_LESS} ${ONE_MORE} END;`;
