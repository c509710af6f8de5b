import { diskReason, isNoRoom } from "../store/disk-errors.js";
import type { OutputFolder } from "./output-folder.js";
import { manifestName } from "./own-outputs.js";
import type { JobEvent, OutputRecord } from "../record/events.js";
import { indexFiles } from "./index-files.js";
import { manifestText, withIndexes, type Manifest } from "../record/manifest.js";
import { listed } from "./write-outputs.js";

const sizeOf = (o: OutputRecord): number => o.files.reduce((n, f) => n + f.size, 0);

/**
 * Writes the manifest and the indexes of a job's outputs, and puts all in place. Where there is no room for these, the
 * largest outputs give way: what was finished is kept as far as it can be.
 *
 * @param folder undefined where nothing is written
 * @throws the system's error, or OutputFolderError, when nothing could be placed
 */
export function placeOutputs(
  folder: OutputFolder | undefined,
  made: readonly OutputRecord[],
  manifestOf: (outputs: readonly OutputRecord[]) => Manifest,
  tell: (e: JobEvent) => void,
): { outputs: OutputRecord[]; manifest: Manifest } {
  let outputs = [...made];
  for (;;) {
    const plain = manifestOf(outputs);
    const indexes = indexFiles(outputs, plain);
    const manifest = withIndexes(plain, listed(indexes));
    if (!folder) return { outputs, manifest };
    try {
      folder.write([...indexes, { file: manifestName, content: manifestText(manifest) }]);
      folder.place();
      return { outputs, manifest };
    } catch (e) {
      folder.drop([...indexes.map((f) => f.file), manifestName]);
      if (!isNoRoom(e)) throw e;
      const largest = outputs.reduce<OutputRecord | undefined>(
        (a, o) => (a && sizeOf(a) >= sizeOf(o) ? a : o),
        undefined,
      );
      if (largest === undefined || sizeOf(largest) === 0) throw e;
      folder.drop(largest.files.map((f) => f.file));
      const failed = `cannot be written: ${diskReason(e)}`;
      tell({ type: "message", level: "error", text: `output "${largest.name}" ${failed}` });
      const { verdict: _, ...rest } = largest;
      outputs = outputs.map((o) => (o === largest ? { ...rest, files: [], failed } : o));
    }
  }
}
