/** Where a page of the book stands: of a run, or of a piece that was finished by itself. */
export const pageOf = (runId: string, piece = "") =>
  `/book/${runId}${piece && `?piece=${encodeURIComponent(piece)}`}`;
