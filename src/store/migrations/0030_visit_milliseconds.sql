ALTER TABLE `visit` RENAME COLUMN "seconds" TO "milliseconds";
