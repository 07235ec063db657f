const clusters = 'application/x-jade-clusters';
const keywords = 'application/x-jade-keywords';

const give = (type: string, data: DataTransfer, ids: readonly number[]) => {
  data.setData(type, JSON.stringify(ids));
  data.effectAllowed = 'move';
};

const take = (type: string, data: DataTransfer): number[] => {
  const text = data.getData(type);
  return text ? (JSON.parse(text) as number[]) : [];
};

/** Clusters that are dragged onto a topic. */
export const giveClusters = (data: DataTransfer, ids: readonly number[]) => give(clusters, data, ids);
export const clustersOf = (data: DataTransfer) => take(clusters, data);

/** Keywords that are dragged onto a cluster. */
export const giveKeywords = (data: DataTransfer, ids: readonly number[]) => give(keywords, data, ids);
export const keywordsOf = (data: DataTransfer) => take(keywords, data);
