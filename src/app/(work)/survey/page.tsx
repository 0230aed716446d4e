import { SurveyWorkspace } from '@/ui/survey/SurveyWorkspace';

export const metadata = { title: 'Survey' };

export default function SurveyPage() {
  return <SurveyWorkspace />;
}
