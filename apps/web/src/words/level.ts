/** What is said of a level of points and lines alone. */
export const NO_SURFACES =
  'The level has points or lines only: nothing of it is drawn, nothing blocks a sight, and there is no ground. Anchors can be put on its nodes; move about by flying (F).';
