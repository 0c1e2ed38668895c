CREATE TABLE `game_door` (
	`projectId` text PRIMARY KEY NOT NULL,
	`tokenHash` text NOT NULL,
	`createdAt` integer NOT NULL,
	FOREIGN KEY (`projectId`) REFERENCES `project`(`id`) ON UPDATE no action ON DELETE cascade
);
