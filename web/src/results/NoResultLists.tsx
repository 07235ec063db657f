import { Button } from 'antd';
import { NotYet } from '../pieces/States';
import type { ListState } from '../pieces/useListState';

/** Why no keyword is shown, and what to do next. */
export function NoResultLists({ list, importFile }: { list: ListState; importFile: () => void }) {
  const show = list.text('show');
  return list.text('search') || list.text('listId') ? (
    <NotYet title="No keyword fits">Search for something else, or show all keywords.</NotYet>
  ) : show === 'failed' ? (
    <NotYet title="No capture failed">Every capture succeeded.</NotYet>
  ) : show === 'empty' ? (
    <NotYet title="None came back empty">Every search that was captured returned something.</NotYet>
  ) : show === 'none' ? (
    <NotYet title="Every keyword was asked for">There is nothing left to capture.</NotYet>
  ) : show === 'expected' ? (
    <NotYet title="No keyword is expected">
      Capture in stages, and keywords whose cluster is certain without a result list are marked as expected.
    </NotYet>
  ) : show === 'captured' ? (
    <NotYet title="No result lists yet">
      <p>Capture results from the search service, or import them.</p>
      <Button type="primary" onClick={() => list.set({ show: undefined })}>
        Show all keywords
      </Button>
    </NotYet>
  ) : (
    <NotYet title="No keywords yet">
      <p>Results belong to keywords. Bring keywords first, or import result lists, which bring their keywords along.</p>
      <Button type="primary" onClick={importFile}>
        Import result lists
      </Button>
    </NotYet>
  );
}
