"use client";
/** The board's dragging is fetched where there is a board: pages without one do not carry it. */
import dynamic from "next/dynamic";

export const BoardLater = dynamic(() => import("./board-columns").then((m) => m.BoardColumns));
