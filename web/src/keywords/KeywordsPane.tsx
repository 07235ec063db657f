import { ImportPane } from '../imports/ImportPane';
import type { Schema } from '../api/client';
import { AboutList } from '../pieces/AboutList';
import type { ListState } from '../pieces/useListState';
import { CapturePane } from '../results/CapturePane';
import { BringPane } from './BringPane';
import { KeywordPane } from './KeywordPane';
import { ListsPane } from './ListsPane';
import { RulesPane } from './RulesPane';
import ui from '../pieces/ui.module.css';

/** The panes of the stage that are opened by a button, a key or a link. */
export const keywordPanes = ['bring', 'import', 'lists', 'rules', 'capture'] as const;

export type KeywordsPaneName = (typeof keywordPanes)[number];

const names = { capture: 'capture', intents: 'intents', minVolume: 'minVolume', maxVolume: 'maxVolume' };

/** What is shown at the right of the keywords. */
export function KeywordsPane({
  shown,
  open,
  list,
  selection,
  picked,
}: {
  shown: KeywordsPaneName | undefined;
  open: (pane: KeywordsPaneName | undefined) => void;
  list: ListState;
  selection: Schema['KeywordSelection'];
  picked: number;
}) {
  const close = () => open(undefined);
  const selected = list.numeric('id');
  switch (shown) {
    case 'import':
      return <ImportPane kind="keywords" close={close} />;
    case 'bring':
      return <BringPane close={close} list={list} selection={selection} importFile={() => open('import')} />;
    case 'lists':
      return <ListsPane list={list} close={close} />;
    case 'rules':
      return <RulesPane close={close} />;
    case 'capture':
      return <CapturePane selection={selection} picked={picked} close={close} />;
    default:
      return selected !== undefined ? (
        <KeywordPane keywordId={selected} />
      ) : (
        <AboutList of="keywords" list={list} names={names}>
          <p className={ui.second}>
            In the table, an asterisk means a rule guessed the intent from the phrase, and a tilde that the keyword is
            expected in that cluster, not captured.
          </p>
        </AboutList>
      );
  }
}
