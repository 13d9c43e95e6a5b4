-- Their rows change several times, each leaving one behind: a fifth of a large table, PostgreSQL's own measure, would be a million of them.
ALTER TABLE "runs" SET (autovacuum_vacuum_scale_factor = 0.01, autovacuum_vacuum_threshold = 2000, autovacuum_vacuum_cost_delay = 0);--> statement-breakpoint
ALTER TABLE "messages" SET (autovacuum_vacuum_scale_factor = 0.01, autovacuum_vacuum_threshold = 2000, autovacuum_vacuum_cost_delay = 0);--> statement-breakpoint
ALTER TABLE "changes" SET (autovacuum_vacuum_scale_factor = 0, autovacuum_vacuum_threshold = 5000, autovacuum_vacuum_cost_delay = 0);
