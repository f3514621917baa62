import { createPortal } from "@/data/installation/portals";
import { PUBLISHER } from "@/testing/world";

createPortal("killed", "Killed", PUBLISHER);
