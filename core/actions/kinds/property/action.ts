import type { ActionKind } from '#core/actions/action'
import { withoutAction } from '#core/actions/edit'
import type { SetProperty } from '#core/actions/kinds/property/shape'
import { fillProperty } from '#core/leads/fill-property'
import { fitsKind, isSettable } from '#core/properties/fits'

export const property: ActionKind<SetProperty> = {
  moment: 'said',
  act({ property, value, onKnown }, { step, known, changed }) {
    const change = fillProperty(step.lead, property, value, onKnown, known)
    if (change) changed.push(change)
  },
  flaws({ key, property, value }, definition, { properties }) {
    const found = properties.find(p => p.key === property)
    const mend = { name: 'Take it out', apply: withoutAction(key) }
    if (!found || found.retired)
      return [
        {
          field: 'property',
          message: found
            ? `“${found.label}” is set for everybody, and was retired.`
            : 'A property that is set for everybody does not exist.',
          mend,
        },
      ]
    if (!isSettable(found.kind)) return [{ field: 'property', message: `“${found.label}” cannot be the same for everybody.`, mend }]
    if (!fitsKind(found.kind, value))
      return [{ field: 'value', message: `“${found.label}” is set for everybody, but to nothing that it can be. Give it a value.` }]
    if (definition.questions.some(q => q.property === property))
      return [
        {
          field: 'property',
          message: `“${found.label}” is set for everybody, and a question asks for it, too. Keep one of the two.`,
          mend,
        },
      ]
    return []
  },
  says: ({ property, value, onKnown }, names) =>
    `has “${names.property(property)}” set to ${names.value(property, value) || 'nothing yet'}${onKnown === 'fill' ? ', if it is not known' : ''}`,
}
