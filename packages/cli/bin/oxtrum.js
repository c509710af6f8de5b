#!/usr/bin/env node
import { bundled } from "@oxtrum/engine/bundled";

await import(bundled("process.cjs") ?? "../dist/process.js");
