/** The six floor anchors, as the columns of their histories name them. */
export const anchors = ["A1", "A2", "A3", "A4", "A5", "A6"];
