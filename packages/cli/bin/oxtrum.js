#!/usr/bin/env node
import "../dist/process.js";
