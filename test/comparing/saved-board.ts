/** A store that keeps what it counts: the board of a stop. */
export const savedBoard = `
leeshore: 1
stores:
  board:
    state: { lines: { type: integer, default: 0 } }
    saved: { fields: [lines], key: board }
    actions:
      expect: [{ set: { lines: "lines + 1" } }]
`;
