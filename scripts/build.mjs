import { buildPackages, buildWeb, ensureInstalled } from "./ensure.mjs";

ensureInstalled();
buildPackages();
buildWeb();
