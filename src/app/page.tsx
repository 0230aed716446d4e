import { redirect } from 'next/navigation';

export default function Start() {
  redirect('/today');
}
