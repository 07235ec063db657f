import { useQuery } from '@tanstack/react-query';
import { topicEvidence } from '../api/evidence';
import { inSentence, words } from '../api/words';
import { Bound, Choice } from '../pieces/FilterSentence';
import { number } from '../pieces/format';
import { marks } from '../pieces/PlotMark';
import { peakOptions, trendOptions } from '../pieces/Season';
import type { ListState } from '../pieces/useListState';
import type { ClustersQuery } from './useClusters';
import ui from '../pieces/ui.module.css';

/** Which clusters are shown, as a sentence. */
export function ClustersSentence({ list, query }: { list: ListState; query: ClustersQuery }) {
  const topicId = query.TopicId;
  const topic = useQuery({ ...topicEvidence(topicId ?? 0), enabled: topicId !== undefined }).data?.topic;
  return (
    <div className={ui.says}>
      Showing{' '}
      <Bound
        label="Least demand"
        any="any demand"
        value={query.MinDemand}
        says={(v) => `demand from ${number(v)}`}
        onChange={(demand) => list.set({ demand })}
      />
      with
      <Choice
        label="Mark"
        any="any mark"
        value={query.Mark}
        options={marks.map((value) => ({ value, says: value }))}
        onChange={(mark) => list.set({ mark })}
      />
      <span className={ui.comma}>,</span>
      <Bound
        label="Fewest keywords"
        any="any size"
        value={query.MinSize}
        says={(v) => `${number(v)} keywords or more`}
        onChange={(size) => list.set({ size })}
      />
      and
      <Choice
        label="Intent"
        any="any intent"
        value={query.Intent}
        options={inSentence(words.intents)}
        onChange={(intent) => list.set({ intent })}
      />
      <Choice
        label="Trend"
        any="any trend"
        value={query.Trend}
        options={trendOptions}
        onChange={(trend) => list.set({ trend })}
      />
      <Choice
        label="Season"
        any="any season"
        value={list.text('peak')}
        options={peakOptions}
        onChange={(peak) => list.set({ peak })}
      />
      {topicId !== undefined && (
        <>
          in the topic
          <button
            className={`${ui.chip} ${ui.set}`}
            title="Show all topics"
            onClick={() => list.set({ inTopic: undefined })}
          >
            {topic?.name ?? '…'} ✕
          </button>
        </>
      )}
    </div>
  );
}
