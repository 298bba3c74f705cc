/** How the rules that ship are written down. */
import type { Rule } from '../model/rulebook';

type Given = Pick<Rule, 'id' | 'title' | 'subject' | 'bound' | 'sense' | 'formula' | 'reason' | 'importance'> &
  Partial<Rule>;

export const rule = (given: Given): Rule => ({
  behind: 'any',
  at: null,
  watchedBy: '',
  clause: '',
  remembered: given.clause !== undefined,
  enabled: true,
  ...given,
});
