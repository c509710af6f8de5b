import {
  BarController,
  BarElement,
  CategoryScale,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
  type ChartComponentLike,
} from "chart.js";

/** What the drawing library has to know for our charts: registered where they are drawn, on screen and in files. */
export const chartParts: readonly ChartComponentLike[] = [
  BarController,
  BarElement,
  CategoryScale,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
];
