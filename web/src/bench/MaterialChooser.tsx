import { useQuery } from "@tanstack/react-query";
import { Plus, TriangleAlert } from "lucide-react";
import { RadioGroup } from "radix-ui";
import { api, data, type Design, type Material, type MaterialChoice, type Ply } from "../api/client";
import { useShopMaterials } from "../api/materials";
import { useBasics } from "../api/queries";
import { freeId, withPly } from "../design/edits";
import { useBench } from "../state/store";
import { Button } from "../ui/Button";
import { Swatch } from "../ui/Swatch";

/** What a ply is cut from, chosen by seeing it: those that suit its ground and its neighbours come first. */
export function MaterialChooser({ design, ply }: { design: Design; ply: Ply }) {
  const change = useBench((state) => state.change);
  const basics = useBasics().data;
  const { shelf } = useShopMaterials();
  const { data: choices = [] } = useQuery({
    queryKey: ["material choices", ply.id, design.ground.colour, design.materials, design.plies.map((one) => [one.id, one.material]), shelf],
    queryFn: () => data<MaterialChoice[]>(api.POST("/api/materials/choices", { body: { design, ply: ply.id } })),
    placeholderData: (before) => before,
  });

  function bring(material: Material) {
    const fresh = freeId("m", design.materials.map((one) => one.id));
    change((now) => ({
      ...withPly(now, ply.id, (one) => ({ ...one, material: fresh })),
      materials: [...now.materials, { ...material, id: fresh }],
    }));
  }

  function choose(name: string) {
    const choice = choices.find((one) => one.material.name === name);
    if (choice?.own) change((now) => withPly(now, ply.id, (one) => ({ ...one, material: choice.material.id })));
    else if (choice) bring(choice.material);
  }

  /** "heat-transfer vinyl, flock" */
  const kindOf = ({ kind, finish }: Material) => [basics?.material_kinds[kind]?.name, basics?.finishes[finish]?.name].filter(Boolean).join(", ");

  return (
    <>
      <RadioGroup.Root
        aria-label="Material"
        value={design.materials.find((one) => one.id === ply.material)?.name ?? ""}
        onValueChange={choose}
        className="flex max-h-58 flex-col gap-0.5 overflow-y-auto rounded-[10px] border border-line p-1"
      >
        {choices.map(({ material, own, warns }) => (
          <RadioGroup.Item
            key={`${own} ${material.id}`}
            value={material.name}
            aria-label={own ? material.name : `${material.name} (shelf)`}
            className="flex items-center gap-2.5 rounded-lg px-2 py-1.5 text-left hover:bg-paper data-[state=checked]:bg-plum-soft"
          >
            <Swatch material={material} />
            <span className="min-w-0 flex-1 leading-snug">
              <span className="block truncate font-semibold">{material.name}</span>
              <span className="block truncate text-[#615866]">
                {kindOf(material)}
                {own ? "" : ", on the shelf"}
              </span>
              {warns.length > 0 && (
                <span className="flex items-start gap-1 text-[12px] text-[#7a5200]">
                  <TriangleAlert size={12} className="mt-0.5 shrink-0" /> {warns.join(", ")}
                </span>
              )}
            </span>
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
      <Button look="quiet" className="mt-1 h-7 px-2" onClick={() => basics && bring(basics.fresh_material)}>
        <Plus size={13} /> Another material
      </Button>
    </>
  );
}
