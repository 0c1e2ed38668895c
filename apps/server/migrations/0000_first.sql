CREATE TABLE `asset` (
	`hash` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`fileName` text NOT NULL,
	`size` integer NOT NULL,
	`facts` text NOT NULL,
	`createdAt` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `project` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`revision` integer NOT NULL,
	`snapshotRevision` integer NOT NULL,
	`snapshot` text NOT NULL,
	`createdAt` integer NOT NULL,
	`updatedAt` integer NOT NULL,
	`removedAt` integer,
	`picture` blob
);
--> statement-breakpoint
CREATE TABLE `revision` (
	`projectId` text NOT NULL,
	`number` integer NOT NULL,
	`changeId` text NOT NULL,
	`clientId` text NOT NULL,
	`patch` text NOT NULL,
	`createdAt` integer NOT NULL,
	PRIMARY KEY(`projectId`, `number`),
	FOREIGN KEY (`projectId`) REFERENCES `project`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE UNIQUE INDEX `revision_change` ON `revision` (`projectId`,`changeId`);