import { surveyDrawing, surveyOutline, surveyPicture, surveyReduce, surveySample, tableSlice } from "@oxtrum/engine";
import { answerQuestions } from "../threads/answer.js";
import type { SurveyQuestion } from "./surveyor.js";

const MOST_ROWS = 5000;

function answer(m: SurveyQuestion): unknown {
  if (m.kind === "outline") return surveyOutline(m.surveyed);
  if (m.kind === "picture") return surveyPicture(m.surveyed, m.asked);
  if (m.kind === "drawing") return surveyDrawing(m.surveyed, m.asked);
  return tableSlice((m.kind === "sample" ? surveySample : surveyReduce)(m.surveyed, m.asked), 0, MOST_ROWS);
}

/** Meshes are read and sampled here, so that the server goes on answering. */
answerQuestions<SurveyQuestion>(answer);
