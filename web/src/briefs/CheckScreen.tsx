import { useMutation, useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useDeferredValue, useEffect, useRef, useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { AskText } from '../pieces/AskText';
import { counted, number } from '../pieces/format';
import { Failed } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import styles from './briefs.module.css';
import { CheckedFacts } from './CheckedFacts';
import ui from '../pieces/ui.module.css';
import { Versions } from './Versions';
import { type Of, type Request, check, findPassage } from './checkText';

/** A text next to what was asked for: what is there, what is missing, and where it would go. It can be edited, and its versions are kept. */
export function CheckScreen({ of, view, back }: { of: Of; view?: Schema['BriefView'] | undefined; back: () => void }) {
  const [text, setText] = useState('');
  const [title, setTitle] = useState('');
  const [description, setDescription] = useState('');
  const [name, setName] = useState('pasted');
  const [from, setFrom] = useState<number>();
  const area = useRef<HTMLTextAreaElement>(null);
  const asked = useDeferredValue(text);
  const bring = useMutation({
    mutationFn: (body: Request) => check(of, body),
    onSuccess: (brought) => {
      setText(brought.text ?? '');
      setTitle(brought.title ?? '');
      setDescription(brought.description ?? '');
      setName(brought.name);
    },
  });
  // A page is read at once; a draft has to be brought.
  const { mutate } = bring;
  const isPage = 'page' in of;
  useEffect(() => {
    if (isPage) mutate({});
  }, [isPage, mutate]);
  const checked = useQuery({
    queryKey: keyOf('check', of, asked, title, description),
    enabled: asked.trim() !== '',
    placeholderData: (before) => before,
    queryFn: () => check(of, { text: asked, title, description }),
  });
  const briefId = 'brief' in of ? of.brief : (bring.data?.briefId ?? undefined);
  const keep = useChange(
    () =>
      answer(
        api.POST('/api/briefs/{id}/texts', {
          params: { path: { id: briefId! } },
          body: { text, name, title, description },
        }),
      ),
    (kept) => `Kept, with ${counted(kept.words, 'word')}.`,
  );
  const open = useChange(
    (id: number) => answer(api.GET('/api/briefs/texts/{id}', { params: { path: { id } } })),
    (kept) => {
      setText(kept.content);
      setTitle(kept.title);
      setDescription(kept.description);
      setName(kept.name);
      setFrom(kept.id);
      return undefined;
    },
  );
  const highlight = (passage: string) => {
    const at = findPassage(text, passage);
    const field = area.current;
    if (!at || !field) return;
    field.focus();
    field.setSelectionRange(at.start, at.end);
    // About where the passage stands; the field itself scrolls no selection into sight.
    field.scrollTop = (field.scrollHeight * at.start) / Math.max(1, text.length) - field.clientHeight / 3;
  };
  const texts = view?.texts ?? [];
  const primary = view?.brief.keywords[0]?.phrase ?? checked.data?.primary ?? bring.data?.primary;
  return (
    <Stage
      work={
        <>
          <div className={ui.head}>
            <Button type="text" onClick={back} aria-label="Back">
              ←
            </Button>
            <h1>{primary ? `A text for “${primary}”` : 'Check a text'}</h1>
            <span className={ui.gap} />
            <AskText
              label="Address"
              placeholder="https://…"
              act="Read"
              isRead
              change={(url) => bring.mutateAsync({ url })}
              done={() => 'The page was read.'}
            >
              <Button loading={bring.isPending}>From an address</Button>
            </AskText>
            <label className="ant-btn ant-btn-default">
              From a file
              <input
                type="file"
                aria-label="A file with the draft"
                className={styles.file}
                accept=".docx,.html,.htm,.md,.txt"
                onChange={(event) => {
                  const chosen = event.target.files?.[0];
                  event.target.value = '';
                  if (chosen) void base64(chosen).then((content) => mutate({ fileName: chosen.name, content }));
                }}
              />
            </label>
            {briefId !== undefined && (
              <Button
                type="primary"
                disabled={text.trim() === ''}
                loading={keep.isPending}
                onClick={() => keep.mutate(undefined)}
              >
                Keep this version
              </Button>
            )}
          </div>
          {bring.isError && (
            <div className={ui.says}>
              <span className={ui.clay}>{bring.error.message}</span>
            </div>
          )}
          <div className={styles.check}>
            <Input
              aria-label="Title of the text"
              prefix={<span className={ui.quiet}>Title</span>}
              maxLength={2000}
              value={title}
              onChange={(event) => setTitle(event.target.value)}
            />
            <Input
              aria-label="Description of the text"
              prefix={<span className={ui.quiet}>Description</span>}
              maxLength={2000}
              value={description}
              onChange={(event) => setDescription(event.target.value)}
            />
            <textarea
              ref={area}
              aria-label="The draft"
              data-list
              placeholder="Paste the draft here, as Markdown or plain text."
              maxLength={400_000}
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
          </div>
        </>
      }
      pane={
        <>
          <h2>What is in the text</h2>
          {texts.length > 0 && <Versions texts={texts} from={from} open={(id) => open.mutate(id)} />}
          {checked.isError && <Failed error={checked.error} retry={() => void checked.refetch()} />}
          {checked.data ? (
            <CheckedFacts facts={checked.data.facts} highlight={highlight} />
          ) : (
            <p className={ui.quiet}>
              Paste the draft, choose a file, or enter an address. The check against the brief appears here and updates
              as you edit.
            </p>
          )}
        </>
      }
      tally={
        checked.data && (
          <>
            <span>
              <b>{number(checked.data.facts.words)}</b> words
            </span>
            <span>{name}</span>
          </>
        )
      }
    />
  );
}

async function base64(file: File) {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let binary = '';
  for (const byte of bytes) binary += String.fromCharCode(byte);
  return btoa(binary);
}
