import { buildBundle, buildPackages, buildWeb, ensureInstalled } from "./ensure.mjs";

ensureInstalled();
buildPackages();
buildBundle();
buildWeb();
