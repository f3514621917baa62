import { Nothing } from "@/features/office/ui/nothing";

export default function NotFound() {
  return <Nothing>It may have been removed or renamed. The rail leads to every part of this portal.</Nothing>;
}
