import { bundled } from "@oxtrum/engine/bundled";

/** The server as a process: from few files where they are what was compiled last. */
await import((bundled("server.cjs") ?? new URL("./serve.js", import.meta.url)).href);
