CREATE TABLE `check_run` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`projectId` text NOT NULL,
	`revision` integer NOT NULL,
	`state` text NOT NULL,
	`why` text,
	`startedAt` integer NOT NULL,
	`endedAt` integer,
	`parts` integer NOT NULL,
	`kept` integer NOT NULL,
	`counts` text,
	`run` text,
	`digests` text,
	FOREIGN KEY (`projectId`) REFERENCES `project`(`id`) ON UPDATE no action ON DELETE cascade
);
