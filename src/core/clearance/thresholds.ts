/** From which share of right messages on a question is clear, and from which it is a caution: its own, or the workspace's. */
import { settingsOf, type Plan, type Question, type Thresholds } from '../plan/plan';

/** Units: shares, 0..1. */
export const workspaceThresholds = (plan: Plan): Thresholds => {
  const { clearFromPercent, cautionFromPercent } = settingsOf(plan);
  return { clear: clearFromPercent / 100, caution: cautionFromPercent / 100 };
};

export const thresholdsOf = (plan: Plan, question: Question): Thresholds => question.thresholds ?? workspaceThresholds(plan);
