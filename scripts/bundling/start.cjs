// Starts a program of the bundle. What compiling its parts gives was kept when the bundle was made (keep-code.mjs), so
// that a process or a thread starts without doing it again. Where that is not there, or of another Node, the parts are
// compiled as ever.
"use strict";
const fs = require("node:fs");
const Module = require("node:module");
const path = require("node:path");
const vm = require("node:vm");

/** A folder to keep the code of all parts in that this program has loaded, with the functions that have run. */
const keep = process.env.OXTRUM_KEEP_CODE;

/** As a plain module is wrapped; kept code cannot import for itself. */
const head = "(function (exports, require, module, __filename, __dirname, importOutside) { ";
const importOutside = (id) => import(id);

module.exports = function start(program) {
  const parts = path.join(__dirname, "parts");
  const loaded = new Map();
  const scripts = new Map();

  function load(file) {
    const before = loaded.get(file);
    if (before) return before.exports;
    const name = path.basename(file);
    let cachedData;
    try {
      if (!keep) cachedData = fs.readFileSync(path.join(__dirname, "code", program, name));
    } catch {
      // Compiled below.
    }
    const script = new vm.Script(`${head}${fs.readFileSync(file, "utf8")}\n})`, { filename: file, cachedData });
    scripts.set(name, script);
    const module = { exports: {} };
    loaded.set(file, module);
    const outside = Module.createRequire(file);
    const within = (id) => (id.startsWith("./") ? load(path.join(parts, id)) : outside(id));
    script.runInThisContext().call(module.exports, module.exports, within, module, file, parts, importOutside);
    return module.exports;
  }

  if (keep) keepCode(path.join(keep, program), scripts);
  return load(path.join(parts, `${program}.cjs`));
};

/**
 * Writes the code at the end of a process, whenever a thread has answered, and when a process has ended a job: threads,
 * and processes that wait for another job, are ended from outside.
 */
function keepCode(folder, scripts) {
  const { isMainThread, MessagePort } = require("node:worker_threads");
  const save = () => {
    fs.mkdirSync(folder, { recursive: true });
    for (const [name, script] of scripts) {
      const code = script.createCachedData();
      const file = path.join(folder, name);
      // Of several threads of a program, the one that did most.
      if (fs.existsSync(file) && fs.statSync(file).size >= code.length) continue;
      fs.writeFileSync(`${file}.${process.pid}`, code);
      fs.renameSync(`${file}.${process.pid}`, file);
    }
  };
  if (isMainThread) {
    process.on("exit", save);
    const { send } = process;
    if (!send) return;
    process.send = (message, ...given) => {
      if (message.type === "ended") save();
      return send.call(process, message, ...given);
    };
    return;
  }
  const { postMessage } = MessagePort.prototype;
  let soon;
  MessagePort.prototype.postMessage = function (...given) {
    // When it has nothing else to do: a script asks hundreds of times.
    clearTimeout(soon);
    soon = setTimeout(save, 0);
    return postMessage.apply(this, given);
  };
}
