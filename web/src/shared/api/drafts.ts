/** Where a plan that is not saved yet is kept on this device. */
export const draftKey = (planId: string) => `yb.draft.${planId}`;

export const hasDraft = (planId: string) => localStorage.getItem(draftKey(planId)) !== null;

export function forgetDraft(planId: string) {
  localStorage.removeItem(draftKey(planId));
}
