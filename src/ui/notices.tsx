"use client";
import { Toaster } from "sonner";

export const Notices = () => <Toaster position="bottom-right" toastOptions={{ className: "font-sans" }} />;
