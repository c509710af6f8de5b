import { diffJobs } from "@oxtrum/engine";
import { answerQuestions } from "../threads/answer.js";
import type { DiffQuestion } from "./differ.js";

answerQuestions<DiffQuestion>((q) => diffJobs(q.then, q.now, q.tolerance));
