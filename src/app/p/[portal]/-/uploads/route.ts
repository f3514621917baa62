import { uploads } from "@/features/files/routes";

export const { POST, OPTIONS } = uploads("portal");
