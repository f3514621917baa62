"use client";
/** A picture of oneself: chosen, cut to a square by dragging or with the sliders, looked at, and only then kept. */
import {
  type Dispatch,
  type PointerEvent,
  type ReactNode,
  type RefObject,
  type SetStateAction,
  type TransitionStartFunction,
  useEffect,
  useRef,
  useState,
  useTransition,
} from "react";
import { answerOf } from "@/ui/answered";
import { type ClientWords, useWords } from "@/ui/words";
import { dropPicture, keepPicture } from "../../records/picture-actions";

const SIDE = 512;
/** How it stands in the square: `zoom` from 1, where its shorter side fills it; `x` and `y` from 0 to 1 over what is left beside. */
interface Cut {
  readonly zoom: number;
  readonly x: number;
  readonly y: number;
}

function draw(canvas: HTMLCanvasElement, image: HTMLImageElement, { zoom, x, y }: Cut): void {
  const scale = (SIDE / Math.min(image.naturalWidth, image.naturalHeight)) * zoom;
  const [w, h] = [image.naturalWidth * scale, image.naturalHeight * scale];
  const paper = canvas.getContext("2d")!;
  paper.fillStyle = "white"; // what lets through is white in the end
  paper.fillRect(0, 0, SIDE, SIDE);
  paper.drawImage(image, (SIDE - w) * x, (SIDE - h) * y, w, h);
}

const within = (v: number): number => Math.min(1, Math.max(0, v));

export function OwnPicture({ picture }: { picture: string | null }) {
  const words = useWords();
  const chooser = useRef<HTMLInputElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [image, setImage] = useState<HTMLImageElement | null>(null);
  const [cut, setCut] = useState<Cut>({ zoom: 1, x: 0.5, y: 0.5 });
  const [problem, setProblem] = useState("");
  const [busy, start] = useTransition();
  useEffect(() => {
    if (image && canvas.current) draw(canvas.current, image, cut);
  }, [image, cut]);
  const choose = (file: File | undefined): void => {
    if (!file) return;
    const next = new Image();
    next.onload = () => {
      setCut({ zoom: 1, x: 0.5, y: 0.5 });
      setProblem("");
      setImage(next);
    };
    next.onerror = () => setProblem(words["picture.none"]);
    next.src = URL.createObjectURL(file);
  };
  const keep = (): void =>
    start(async () => {
      const blob = await new Promise<Blob | null>((done) => canvas.current!.toBlob(done, "image/jpeg", 0.9));
      const data = new FormData();
      if (blob) data.set("picture", blob, "picture.jpg");
      const answer = await answerOf(keepPicture(data));
      setProblem(answer === null ? words["answer.none"] : (answer.problem ?? ""));
      if (answer && !answer.problem) setImage(null);
    });
  const drag = (e: React.PointerEvent<HTMLCanvasElement>): void => {
    if (e.buttons === 0 || !image) return;
    const box = e.currentTarget.getBoundingClientRect();
    const scale = (SIDE / Math.min(image.naturalWidth, image.naturalHeight)) * cut.zoom;
    const moved = (by: number, size: number, at: number): number => {
      const room = (SIDE - size * scale) * (box.width / SIDE);
      return room === 0 ? at : within(at + by / room);
    };
    setCut({ ...cut, x: moved(e.movementX, image.naturalWidth, cut.x), y: moved(e.movementY, image.naturalHeight, cut.y) });
  };
  const slider = (label: string, key: keyof Cut, max: number) => (
    <label className="grid gap-1 text-sm">
      {label}
      <input
        type="range"
        className="range range-xs"
        min={key === "zoom" ? 1 : 0}
        max={max}
        step={0.01}
        value={cut[key]}
        onChange={(e) => setCut({ ...cut, [key]: Number(e.target.value) })}
      />
    </label>
  );
  return (
    <div className="grid justify-items-start gap-3">
      {!image && <PictureNow picture={picture} words={words} />}
      {image && <CutTools canvas={canvas} words={words} drag={drag} slider={slider} />}
      <PictureInput chooser={chooser} words={words} choose={choose} />
      <PictureButtons
        image={image}
        busy={busy}
        keep={keep}
        words={words}
        setImage={setImage}
        chooser={chooser}
        picture={picture}
        start={start}
      />
      <p role="alert" className="field-error">
        {problem}
      </p>
    </div>
  );
}

const EMPTY = "data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg'/%3E";

interface CutToolsProps {
  readonly canvas: RefObject<HTMLCanvasElement | null>;
  readonly words: ClientWords;
  readonly drag: (e: PointerEvent<HTMLCanvasElement>) => void;
  readonly slider: (label: string, key: "zoom" | "x" | "y", max: number) => ReactNode;
}

/** How the picture is cut. */
function CutTools({ canvas, words, drag, slider }: CutToolsProps) {
  return (
    <div className="flex flex-wrap items-start gap-5">
      <canvas
        ref={canvas}
        width={SIDE}
        height={SIDE}
        role="img"
        aria-label={words["picture.cut"]}
        className="size-56 cursor-move touch-none rounded-full border border-base-300"
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={drag}
      />
      <div className="grid w-48 gap-3">
        {slider(words["picture.zoom"], "zoom", 4)}
        {slider(words["picture.across"], "x", 1)}
        {slider(words["picture.down"], "y", 1)}
      </div>
    </div>
  );
}

interface PictureInputProps {
  readonly chooser: RefObject<HTMLInputElement | null>;
  readonly words: ClientWords;
  readonly choose: (file: File | undefined) => void;
}

/** The file box. */
function PictureInput({ chooser, words, choose }: PictureInputProps) {
  return (
    <input
      ref={chooser}
      type="file"
      accept="image/jpeg,image/png,image/webp"
      className="sr-only"
      tabIndex={-1}
      aria-label={words["picture.choose"]}
      onChange={(e) => {
        choose(e.target.files?.[0]);
        e.target.value = "";
      }}
    />
  );
}

interface PictureButtonsProps {
  readonly image: HTMLImageElement | null;
  readonly busy: boolean;
  readonly keep: () => void;
  readonly words: ClientWords;
  readonly setImage: Dispatch<SetStateAction<HTMLImageElement | null>>;
  readonly chooser: RefObject<HTMLInputElement | null>;
  readonly picture: string | null;
  readonly start: TransitionStartFunction;
}

/** Keep, choose another, or take it away. */
function PictureButtons({ image, busy, keep, words, setImage, chooser, picture, start }: PictureButtonsProps) {
  return (
    <div className="flex flex-wrap gap-3">
      {image && (
        <button type="button" className="btn btn-primary btn-sm" disabled={busy} onClick={keep}>
          {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
          {words["picture.keep"]}
        </button>
      )}
      {image && (
        <button type="button" className="btn btn-ghost btn-sm" onClick={() => setImage(null)}>
          {words["form.cancel"]}
        </button>
      )}
      {!image && (
        <button type="button" className="btn btn-sm" onClick={() => chooser.current?.click()}>
          {words["picture.choose"]}
        </button>
      )}
      {!image && picture && (
        <button type="button" className="btn btn-ghost btn-sm" disabled={busy} onClick={() => start(() => dropPicture())}>
          {words["picture.remove"]}
        </button>
      )}
    </div>
  );
}

/** How it looks now. */
function PictureNow({ picture, words }: { picture: string | null; words: ClientWords }) {
  return (
    // biome-ignore lint/performance/noImgElement: a data address, which nothing optimises
    <img
      src={picture ?? EMPTY}
      alt={picture ? words["picture.yours"] : ""}
      width={96}
      height={96}
      className="size-24 rounded-full border border-base-300 bg-base-200 object-cover"
    />
  );
}
