import { namedColumns } from '@/core/capacity/sampleColumns';
import type { Sample } from '@/core/capacity/logReader';

/** This many rows a group: enough to be worth compressing, few enough to be held at once. */
const rowGroup = 65_536;

/** Writes samples into a Parquet file, a column of doubles each, in constant memory; `about` goes with it. */
export async function writeParquet(
  file: string,
  logged: Parameters<typeof namedColumns>[0],
  about: Record<string, string>,
  portions: AsyncIterable<Sample[]>,
): Promise<void> {
  const { fileWriter, ParquetWriter } = await import('hyparquet-writer');
  const columns = namedColumns(logged);
  const schema = [
    { name: 'samples', num_children: columns.length },
    ...columns.map(({ name }) => ({ name, type: 'DOUBLE' as const, repetition_type: 'OPTIONAL' as const })),
  ];
  const kvMetadata = Object.entries(about).map(([key, value]) => ({ key, value }));
  const writer = new ParquetWriter({ writer: fileWriter(file), schema, kvMetadata, createdBy: 'Bold Ember' });
  let held: Sample[] = [];
  const write = async (): Promise<void> => {
    if (held.length === 0) return;
    await writer.write({
      columnData: columns.map(({ name, of }) => ({ name, data: held.map(of) })),
      rowGroupSize: rowGroup,
    });
    held = [];
  };
  for await (const samples of portions) {
    held.push(...samples);
    if (held.length >= rowGroup) await write();
  }
  await write();
  await writer.finish();
}
