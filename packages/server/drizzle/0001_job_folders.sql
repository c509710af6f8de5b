ALTER TABLE `jobs` ADD `uid` text;
