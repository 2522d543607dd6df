// Where things stand across the ruler, in the units of its drawing.
export const X = { tick: 30, left: 38, right: 164, arcs: 172, edge: 270 };
