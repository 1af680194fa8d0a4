import { Button } from "../../components/Button";
import { fieldName } from "../../lib/fields";
import { type Draft, useDropRecipe } from "../../queries/gathering";

interface Props {
  recipes: Draft[];
  onEdit: (recipe: Draft) => void;
}

/** The directories there are, with what each one gives. */
export default function RecipeTable({ recipes, onEdit }: Props) {
  const drop = useDropRecipe();
  return (
    <table className="mt-5 w-full max-w-[980px] bg-sheet">
      <tbody>
        {recipes.map((kept) => (
          <tr key={kept.id} className="border-b border-faint">
            <td className="px-3 py-1.5 font-medium">{kept.title}</td>
            <td className="max-w-80 truncate px-3 py-1.5 text-soft" title={kept.address}>
              {kept.address}
            </td>
            <td className="px-3 py-1.5 text-soft">
              {kept.fields.map((rule) => fieldName(rule.field)).join(", ")}
            </td>
            <td className="px-3 py-1.5 text-right">
              <span className="flex justify-end gap-2">
                <a href={`/api/recipes/${kept.id}/file`} download className="text-leaf-dark hover:underline">
                  Save as a file
                </a>
                <Button look="quiet" onClick={() => drop.mutate(kept.id)}>
                  Delete
                </Button>
                <Button onClick={() => onEdit(kept)}>Edit</Button>
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
