import { parentPort } from "node:worker_threads";
import { surveyOutline, surveyPicture, surveyReduce, surveySample, tableSlice } from "@oxtrum/engine";
import type { SurveyQuestion } from "./surveyor.js";

/** Meshes are read and sampled here, so that the server goes on answering. */
parentPort!.on("message", (m: SurveyQuestion & { readonly id: number }) => {
  try {
    const value =
      m.kind === "outline"
        ? surveyOutline(m.surveyed)
        : m.kind === "picture"
          ? surveyPicture(m.surveyed, m.asked)
          : tableSlice((m.kind === "sample" ? surveySample : surveyReduce)(m.surveyed, m.asked), 0, 5000);
    parentPort!.postMessage({ id: m.id, value });
  } catch (e) {
    const error = e as Error & { file?: string };
    parentPort!.postMessage({
      id: m.id,
      error: error.file === undefined ? error.message : `${error.file}: ${error.message}`,
    });
  }
});
