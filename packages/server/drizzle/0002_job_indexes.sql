CREATE INDEX `job_script` ON `jobs` (`script_id`,`id`);--> statement-breakpoint
CREATE INDEX `job_state` ON `jobs` (`state`);