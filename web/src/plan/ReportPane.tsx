import { fileUrl } from '../api/base';
import { Button, DatePicker, Select } from 'antd';
import dayjs, { type Dayjs } from 'dayjs';
import { useState } from 'react';
import { useTopicNames } from '../topics/TopicSelect';
import ui from '../pieces/ui.module.css';

const isoDay = (date: Dayjs) => date.format('YYYY-MM-DD');

/** Progress over a period, of all topics or a few: to print, or to save as one file. */
export function ReportPane({ close }: { close: () => void }) {
  const [[from, to], setPeriod] = useState(() => [dayjs().subtract(28, 'day'), dayjs()] as [Dayjs, Dayjs]);
  const [topicIds, setTopicIds] = useState<number[]>([]);
  const topics = useTopicNames();
  const params = new URLSearchParams({ from: isoDay(from), to: isoDay(to) });
  for (const id of topicIds) params.append('topicId', String(id));
  const address = (file: string, more = '') => fileUrl(`/api/plan/${file}?${params.toString()}${more}`);
  return (
    <div className={ui.form}>
      <h2>Progress report</h2>
      <p>
        What was covered, planned and open then and now, what was done and is due, what was decided and why, and what is
        waiting for whom.
      </p>
      <label>
        <span>Period</span>
        <DatePicker.RangePicker
          aria-label="Period"
          allowClear={false}
          value={[from, to]}
          format="D MMM YYYY"
          onChange={(range) => {
            if (range?.[0] && range[1]) setPeriod([range[0], range[1]]);
          }}
        />
      </label>
      <label>
        <span>Topics</span>
        <Select<number[]>
          aria-label="Topics"
          mode="multiple"
          allowClear
          placeholder="all of them"
          optionFilterProp="label"
          value={topicIds}
          options={topics.map((t) => ({ value: t.id, label: t.name }))}
          onChange={setTopicIds}
        />
      </label>
      <div className={ui.acts}>
        <Button type="primary" href={address('report.html')} target="_blank" rel="noreferrer">
          Open to print
        </Button>
        <Button href={address('report.html', '&save=true')}>Save as HTML</Button>
        <Button href={address('report.md')}>Save as Markdown</Button>
        <Button onClick={close}>Close</Button>
      </div>
    </div>
  );
}
