import type { Material } from "../api/client";
import { useShopMaterials } from "../api/materials";
import { Button } from "../ui/Button";

const same = (one: Material, other: Material) => JSON.stringify({ ...one, id: "" }) === JSON.stringify({ ...other, id: "" });

/** Puts a design's material on the shop's shelf, brings what lies there up to date, or takes it off. */
export function KeepMaterial({ material }: { material: Material }) {
  const { shelf, keep, forget } = useShopMaterials();
  const kept = shelf.find((one) => one.name === material.name);
  return (
    <div className="flex items-center justify-between gap-2">
      <span className="text-soft">{kept ? (same(kept, material) ? "On the shop’s shelf" : "Other than on the shelf") : "In this design only"}</span>
      {!kept || !same(kept, material) ? (
        <Button className="h-7 px-2" onClick={() => keep(material)}>
          {kept ? "Keep it so" : "Keep for the shop"}
        </Button>
      ) : (
        <Button look="quiet" className="h-7 px-2" onClick={() => forget(material.name)}>
          Take off the shelf
        </Button>
      )}
    </div>
  );
}
