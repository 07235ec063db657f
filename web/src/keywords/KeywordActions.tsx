import { Dropdown, Popconfirm } from 'antd';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { AskText } from '../pieces/AskText';
import { counted, number } from '../pieces/format';
import type { ListState } from '../pieces/useListState';
import { Decline } from '../clusters/Decline';
import { useSieves } from './filter';
import ui from '../pieces/ui.module.css';

/** What can be done with the picked keywords, or with all that are in view. */
export function KeywordActions({
  selection,
  picked,
  inView,
  list,
  capture,
  clear,
  exportHref,
}: {
  selection: Schema['KeywordSelection'];
  picked: number;
  inView: number | undefined;
  list: ListState;
  capture: () => void;
  clear: () => void;
  exportHref: string;
}) {
  const { lists } = useSieves();
  const inList = lists.find((l) => l.id === list.numeric('listId'));
  const add = useChange(
    (id: number) => answer(api.POST('/api/lists/{id}/add', { params: { path: { id } }, body: selection })),
    (result) => `${counted(result.count, 'keyword')} added to the list.`,
  );
  const takeOut = useChange(
    (id: number) => answer(api.POST('/api/lists/{id}/remove', { params: { path: { id } }, body: selection })),
    (result) => {
      clear();
      return `${counted(result.count, 'keyword')} taken out of the list.`;
    },
  );
  const remove = useChange(
    () => answer(api.POST('/api/keywords/remove', { body: selection })),
    (result) => {
      clear();
      return `${counted(result.count, 'keyword')} taken out of the project.`;
    },
  );
  const takeBack = useChange(
    () => answer(api.POST('/api/keywords/take-back', { body: selection })),
    (result) => {
      clear();
      return `${counted(result.count, 'keyword')} taken back. The next grouping takes them in.`;
    },
  );
  const numbers = useChange(() =>
    answer(
      api.POST('/api/keywords/gather', {
        body: {
          from: 'numbers',
          seeds: null,
          containing: true,
          related: false,
          alphabet: false,
          questions: false,
          add: true,
          listId: null,
          selection,
        },
      }),
    ),
  );
  if (!inView && picked === 0) return null;
  const all = picked === 0;
  return (
    <div className={ui.actions}>
      <span>
        {all ? (
          <>
            All <b>{number(inView)}</b> in view:
          </>
        ) : (
          <>
            <b>{number(picked)}</b> picked:
          </>
        )}
      </span>
      <Dropdown
        trigger={['click']}
        disabled={lists.length === 0}
        menu={{
          items: lists.map((l) => ({ key: String(l.id), label: `${l.name} (${number(l.keywords)})` })),
          onClick: ({ key }) => add.mutate(Number(key)),
        }}
      >
        <button className={ui.chip}>add to a list</button>
      </Dropdown>
      <NewList selection={selection} />
      {inList && (
        <button className={ui.chip} onClick={() => takeOut.mutate(inList.id)}>
          take out of “{inList.name}”
        </button>
      )}
      <button className={ui.chip} onClick={capture}>
        capture results…
      </button>
      <button className={ui.chip} disabled={numbers.isPending} onClick={() => numbers.mutate(undefined)}>
        fetch numbers
      </button>
      <Decline selection={selection} done={clear}>
        <button className={ui.chip}>decline…</button>
      </Decline>
      {list.text('progress') === 'declined' && (
        <button className={ui.chip} onClick={() => takeBack.mutate(undefined)}>
          take back
        </button>
      )}
      <Popconfirm
        title={`Take ${all ? `all ${number(inView)} keywords in view` : counted(picked, 'keyword')} out of the project?`}
        description="Their clusters shrink with them."
        okText="Take out"
        onConfirm={() => remove.mutate(undefined)}
      >
        <button className={ui.chip}>take out of the project</button>
      </Popconfirm>
      {!all && (
        <button className={`${ui.chip} ${ui.quiet}`} onClick={clear}>
          clear selection
        </button>
      )}
      <span className={ui.gap} />
      <a href={exportHref}>Export CSV</a>
    </div>
  );
}

const NewList = ({ selection }: { selection: Schema['KeywordSelection'] }) => (
  <AskText
    label="Name of the new list"
    placeholder="name of the list"
    act="Make"
    change={(name) => answer(api.POST('/api/lists', { body: { name, notes: null, selection } }))}
    done={(made) => `The list “${made.name}” has ${counted(made.keywords, 'keyword')}.`}
  >
    <button className={ui.chip}>make a list</button>
  </AskText>
);
