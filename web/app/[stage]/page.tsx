import { notFound } from 'next/navigation';
import { STAGES } from '../../stages/list';
import { StageView } from '../../stages/StageView';

export const dynamicParams = false;
export const generateStaticParams = (): { stage: string }[] => STAGES.map(({ id }) => ({ stage: id }));

export default async function StagePage({ params }: { params: Promise<{ stage: string }> }) {
  const { stage } = await params;
  const found = STAGES.find((s) => s.id === stage);
  if (!found) notFound();
  return <StageView stage={found.id} />;
}
