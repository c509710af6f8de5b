/** The six floor anchors, as the columns of their histories name them. */
export const anchors = ["A1", "A2", "A3", "A4", "A5", "A6"];

/** The resultant of an anchor's two shear components. */
export const shear = (anchor: string): string => `sqrt(${anchor}.Fx^2 + ${anchor}.Fy^2)`;
