import { Switch } from "radix-ui";
import { type DragEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { Box, Design, Kind, Line } from "../api/client";
import { isPlaced } from "../design/placing";
import { shapedBy } from "../design/sources";
import { chosenLines, gesture, type Look, useBench } from "../state/store";
import { useBringIn } from "../state/useBringIn";
import type { ShownProof } from "../state/useProof";
import { formatSize } from "../units";
import { inPanel, isSwitchedOff, isTyping } from "../ui/focus";
import { Guard } from "../ui/Guard";
import { Looks } from "../ui/Looks";
import { sayProblem } from "../ui/notices";
import { aheadOfProof, boxNow, pivotOf } from "./ahead";
import { ArrangeBar } from "./ArrangeBar";
import { DragMarks, Grid, Guides } from "./GuidesLayer";
import { HitLayer } from "./HitLayer";
import { LetterFrame } from "./LetterLayer";
import { AheadPlies, aheadInWords, useAhead } from "./Ahead";
import { CutLines, Finished, Ground, groundBox } from "./PlyPaths";
import { PiecesLayer, piecesOf } from "./PiecesLayer";
import { PointLayer, WordsLit } from "./PointLayer";
import { Rulers } from "./Rulers";
import { Selection } from "./Selection";
import { ShapingLayer } from "./ShapingLayer";
import { unionOf } from "./snap";
import { Spot } from "./Spot";
import { Starts } from "./Starts";
import { useMarquee } from "./useMarquee";
import { NEARER, useView } from "./useView";
import { ViewBar } from "./ViewBar";
import { WeededPly, Weeding } from "./Weeding";
import { isLettering } from "../design/lettering";

interface Props {
  design: Design;
  proof: ShownProof | null;
  kinds: Kind[] | undefined;
  busy: boolean;
}

const EMPTY_BENCH: Box = [-150, -100, 150, 100];
const LOOKS: Record<Look, string> = { finished: "Finished", cut: "Cut lines", weeding: "Weeding" };

/** The picture in the middle: the recipe seen and handled directly. */
export function ProofView({ design, proof, kinds, busy }: Props) {
  const area = useRef<SVGSVGElement>(null);
  const { selected, fresh, others, letter, look, setLook, showNodes, setShowNodes, lookAt, picking, gridShown } = useBench();
  const bounds = (proof?.bounds as Box | null | undefined) ?? EMPTY_BENCH;
  const { view, size, own, panBy, zoomBy, zoomTo, fit, shows, show } = useView(area, groundBox(bounds, design.ground));
  const [space, setSpace] = useState(false);
  const [panning, setPanning] = useState(false);
  const [over, setOver] = useState(false);
  /** what is said of the piece under the pointer */
  const [hint, setHint] = useState<string | null>(null);
  const bringIn = useBringIn();
  const ahead = useAhead(design);
  const tried = useBench((state) => state.tried?.id);
  const chosen = chosenLines({ selected, others });
  const lines = design.recipe.filter((one) => chosen.includes(one.id) && !one.off).sort((a, b) => chosen.indexOf(a.id) - chosen.indexOf(b.id));
  const [line] = lines;
  const box = proof ? unionOf(lines.map((one) => boxNow(one, proof)).filter((one) => one !== null)) : null;
  const marquee = useMarquee(design, proof, view);
  const shaping = lines.length === 1 && line ? proof?.shapings[line.id] : undefined;
  const picksPieces = lines.length === 1 && !picking ? piecesOf(line) : undefined;
  const lettering = isLettering(line) && lines.length === 1 && letter ? line : null;

  // The view follows what is made only when it would not show: never under a hand that is dragging.
  const made = proof?.bounds != null;
  const stray = made && !gesture.running && !own && !shows(bounds);
  useEffect(() => {
    if (made) fit(groundBox(bounds, design.ground));
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [made, stray]);

  // What was just added is seen, wherever she was looking.
  const added = proof?.results.find((result) => result.line === fresh)?.box as Box | undefined;
  const unseen = added !== undefined && !shows(added);
  useEffect(() => {
    if (unseen) fit(groundBox(bounds, design.ground));
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [fresh, unseen]);

  useEffect(() => {
    if (lookAt) show(lookAt.box);
    // Only a new place to look at moves the view, not a new size of the window.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [lookAt]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event.target) || inPanel(event.target) || isSwitchedOff(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "+" || event.key === "=") zoomBy(NEARER);
      else if (event.key === "-") zoomBy(1 / NEARER);
      else if (event.key === "0") fit(groundBox(bounds, design.ground));
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  });

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const control = event.target instanceof HTMLElement && event.target.closest("input, button, textarea, [role]");
      if (event.code !== "Space" || control) return;
      event.preventDefault();
      setSpace(event.type === "keydown");
    };
    addEventListener("keydown", onKey);
    addEventListener("keyup", onKey);
    return () => {
      removeEventListener("keydown", onKey);
      removeEventListener("keyup", onKey);
    };
  }, []);

  function drop(event: DragEvent) {
    event.preventDefault();
    setOver(false);
    const file = event.dataTransfer.files[0];
    if (file) bringIn.mutate({ file }, { onError: sayProblem });
  }

  const summary = proof?.bounds
    ? `${design.name}, ${formatSize(bounds[2] - bounds[0], bounds[3] - bounds[1], design.unit)}, ` +
      `${proof.plies.length} plies: ${design.plies.map((ply) => ply.name).join(", ")}.`
    : "An empty bench.";

  return (
    <section
      aria-label="Proof"
      className="relative flex min-w-0 flex-1 flex-col bg-bench select-none"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <div className="relative flex h-13 shrink-0 items-center justify-center">
        <Looks looks={LOOKS} look={look} onLook={setLook} />
        {look === "weeding" && proof && <WeededPly design={design} proof={proof} />}
        {look === "cut" && (
          <label className="absolute right-4 flex cursor-pointer items-center gap-2">
            Nodes
            <Switch.Root
              checked={showNodes}
              onCheckedChange={setShowNodes}
              className="h-4.5 w-8 rounded-full bg-[#a39a86] transition-colors data-[state=checked]:bg-plum"
            >
              <Switch.Thumb className="block size-3.5 translate-x-0.5 rounded-full bg-card transition-transform data-[state=checked]:translate-x-4" />
            </Switch.Root>
          </label>
        )}
      </div>
      <svg
        ref={area}
        role="group"
        aria-label={`Proof. ${summary}`}
        data-testid="proof"
        className={`min-h-0 w-full flex-1 touch-none ${space ? "cursor-grab" : ""}`}
        onPointerDown={(event: PointerEvent<SVGSVGElement>) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          if (event.button === 1 || space) setPanning(true);
          else marquee.begin(event);
        }}
        onPointerMove={(event) => {
          if (panning) panBy(event.movementX, event.movementY);
          else marquee.move(event);
        }}
        onPointerUp={() => {
          setPanning(false);
          marquee.end();
        }}
        onLostPointerCapture={() => {
          setPanning(false);
          marquee.end();
        }}
      >
        <g transform={`scale(${view.k}) translate(${-view.x} ${-view.y})`}>
          {proof && ahead && proof.bounds && (
            <Guard dispensable>
              <Ground box={proof.bounds as Box} ground={design.ground} />
              <AheadPlies ahead={ahead} proof={proof} />
            </Guard>
          )}
          {proof && !ahead && look === "finished" && <Finished proof={proof} design={design} />}
          {proof && !ahead && look === "cut" && <CutLines proof={proof} design={design} showNodes={showNodes} />}
          {proof && !ahead && look === "weeding" && <Weeding proof={proof} design={design} />}
          {proof && design.ground.width && design.ground.height && <GroundSize width={design.ground.width} height={design.ground.height} />}
          {proof && lines.map((one) => <Ghost key={one.id} line={one} proof={proof} />)}
          {proof && line && lines.length === 1 && <Unshaped design={design} line={line} proof={proof} />}
          {proof && !space && picksPieces && line && (
            <PiecesLayer key={line.id} design={design} line={line} pieces={picksPieces} proof={proof} view={view} onHint={setHint} />
          )}
          {proof && !space && !picksPieces && !picking && <HitLayer design={design} proof={proof} view={view} kinds={kinds} />}
        </g>
        {proof && !picking && <WordsLit proof={proof} view={view} />}
        {proof && picking && !space && <PointLayer key={`${picking.line} ${picking.field}`} design={design} proof={proof} view={view} kinds={kinds} picking={picking} />}
        {gridShown && <Grid view={view} width={size.width} height={size.height} unit={design.unit} />}
        <Rulers view={view} width={size.width} height={size.height} unit={design.unit} origin={[bounds[0], bounds[1]]} />
        <Guides design={design} view={view} width={size.width} height={size.height} />
        {proof && line && !picking && !space && !lettering && <Selection design={design} lines={lines} proof={proof} view={view} />}
        {proof && lettering && !space && <LetterFrame line={lettering} proof={proof} view={view} />}
        {shaping && line && !picking && !space && <ShapingLayer key={line.id} design={design} line={line} shaping={shaping} view={view} />}
        <DragMarks view={view} unit={design.unit} />
        {lookAt?.design === design && <Spot box={lookAt.box} view={view} />}
        {marquee.box && <rect {...marquee.box} className="pointer-events-none fill-plum/10 stroke-plum" strokeDasharray="4 3" />}
      </svg>
      {design.recipe.length === 0 && <Starts />}
      {lines.some(isPlaced) && <ArrangeBar design={design} lines={lines.filter(isPlaced)} />}
      <ViewBar
        design={design}
        k={view.k}
        zoomBy={zoomBy}
        zoomTo={zoomTo}
        onShowChosen={box ? () => show(box) : null}
        onShowAll={() => fit(groundBox(bounds, design.ground))}
      />
      {(busy || bringIn.isPending) && (
        <p role="status" className="absolute bottom-3 left-9 rounded-full bg-ink px-3 py-1 text-card">
          {bringIn.isPending ? "Reading the picture…" : "Working it out…"}
        </p>
      )}
      {picksPieces && hint && (
        <p role="status" className="pointer-events-none absolute top-32 left-1/2 -translate-x-1/2 rounded-full bg-ink px-3 py-1 whitespace-nowrap text-card">
          {hint}
        </p>
      )}
      {proof && ahead && tried && (
        <p role="status" className="pointer-events-none absolute top-16 left-1/2 w-max max-w-[92%] -translate-x-1/2 rounded-xl bg-ink px-3 py-1 text-card">
          {aheadInWords(kinds, tried, ahead, proof)}
        </p>
      )}
      {over && (
        <div className="pointer-events-none absolute inset-3 grid place-items-center rounded-xl border-2 border-dashed border-plum bg-plum-soft/70">
          <p className="font-display text-[17px] font-bold text-plum">Drop the SVG to place it here</p>
        </div>
      )}
    </section>
  );
}

/** What of the ground can be covered, where its size is known. */
function GroundSize({ width, height }: { width: number; height: number }) {
  return (
    <g className="pointer-events-none fill-none">
      {/* A pale line under a dark one shows on any ground. */}
      {(["stroke-card/45", "stroke-ink/60"] as const).map((stroke, index) => (
        <rect
          key={stroke}
          x={-width / 2}
          y={-height / 2}
          width={width}
          height={height}
          className={stroke}
          {...(index === 1 ? { strokeDasharray: "2 4" } : {})}
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </g>
  );
}

/** What a chosen line shapes, as it was before: thin, for the eye alone. */
function Unshaped({ design, line, proof }: { design: Design; line: Line; proof: ShownProof }) {
  const shaped = shapedBy(design, line);
  return (
    <g className="pointer-events-none fill-none stroke-ink/45">
      {proof.results
        .filter((result) => shaped.includes(result.ref))
        .map((result) => (
          <path key={result.ref} d={result.d} vectorEffect="non-scaling-stroke" strokeWidth={0.9} />
        ))}
    </g>
  );
}

/** A chosen thing where the hand has it, until the true result arrives. */
function Ghost({ line, proof }: { line: Line; proof: ShownProof }) {
  const result = proof.results.find((one) => one.line === line.id);
  if (!result?.box) return null;
  const { dx, dy, sx, sy, turn } = aheadOfProof(line, proof);
  if (dx === 0 && dy === 0 && sx === 1 && sy === 1 && turn === 0) return null;
  const then = proof.design.recipe.find((one) => one.id === line.id);
  const middle: [number, number] = [(result.box[0] + result.box[2]) / 2, (result.box[1] + result.box[3]) / 2];
  const [cx, cy] = (then && pivotOf(then)) ?? middle;
  return (
    <path
      d={result.d}
      fillRule="evenodd"
      transform={`translate(${cx + dx} ${cy + dy}) rotate(${turn}) scale(${sx} ${sy}) translate(${-cx} ${-cy})`}
      className="pointer-events-none fill-plum/30 stroke-plum"
      vectorEffect="non-scaling-stroke"
    />
  );
}
