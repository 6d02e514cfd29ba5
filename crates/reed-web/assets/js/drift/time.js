// Longest step in which things drift, s.
export const LONGEST = 0.1;
