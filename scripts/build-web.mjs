// Builds the web application, when its sources are newer than what was built.
import { buildWeb } from "./ensure.mjs";

buildWeb();
