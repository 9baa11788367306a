/** Dictation where the browser has it. Where it has not, the keyboard's own works in any field. */
import { useRef, useState } from "react";

interface Recogniser {
  continuous: boolean;
  onresult: ((e: { resultIndex: number; results: ArrayLike<ArrayLike<{ transcript: string }> & { isFinal: boolean }> }) => void) | null;
  onend: (() => void) | null;
  start(): void;
  stop(): void;
}

type Maker = new () => Recogniser;

export function useDictation(onSaid: (text: string) => void): { on: boolean; turn: () => void } | undefined {
  const [on, setOn] = useState(false);
  const running = useRef<Recogniser>(null);
  const said = useRef(onSaid);
  said.current = onSaid;
  const all = globalThis as unknown as { SpeechRecognition?: Maker; webkitSpeechRecognition?: Maker };
  const Speech = all.SpeechRecognition ?? all.webkitSpeechRecognition;
  if (!Speech) return undefined;
  const turn = () => {
    if (running.current) return running.current.stop();
    const r = new Speech();
    r.continuous = true;
    r.onresult = (e) => {
      for (let i = e.resultIndex; i < e.results.length; i++) if (e.results[i].isFinal) said.current(e.results[i][0].transcript.trim());
    };
    r.onend = () => {
      running.current = null;
      setOn(false);
    };
    running.current = r;
    r.start();
    setOn(true);
  };
  return { on, turn };
}
