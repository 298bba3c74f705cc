/** Documents of studies that the core cannot write by itself: for the server's threads, and for the terminal. */
import type { Documents } from '@mesura/cli/command';
import { settingsOf } from '@mesura/core/model/network';
import { preparedContents, writtenSheet } from './sheets';

export const documents: Documents = {
  async sheetPdf({ network, name }, subject) {
    const elements = [...network.elements.values()];
    const [made] = preparedContents({ task: 'sheets', elements, subjects: [subject] });
    const issue = { project: name, head: null, history: [], since: [] };
    return made && writtenSheet({ task: 'sheetPdf', ...made, issue, settings: settingsOf(network) });
  },
};
