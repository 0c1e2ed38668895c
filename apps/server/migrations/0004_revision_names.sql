CREATE TABLE `revision_name` (
	`projectId` text NOT NULL,
	`number` integer NOT NULL,
	`name` text NOT NULL,
	`createdAt` integer NOT NULL,
	PRIMARY KEY(`projectId`, `number`),
	FOREIGN KEY (`projectId`) REFERENCES `project`(`id`) ON UPDATE no action ON DELETE cascade
);
