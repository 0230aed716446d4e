import * as yup from 'yup';
import { line } from '../values/line';
import { siteRuleKinds } from './siteRules';

/** The rules by which sites are told, in the order in which they are asked. */
export const siteRulesSchema = yup
  .object({
    rules: yup
      .array(
        yup
          .object({
            of: yup
              .string()
              .oneOf(siteRuleKinds, `must be one of ${siteRuleKinds.join(', ')}`)
              .required(),
            pattern: yup.string().defined().max(120),
            site: yup.string().defined().max(60),
          })
          .noUnknown(),
      )
      .required()
      .max(5000),
  })
  .noUnknown();

/** A site set by hand; null for what the rules say. */
export const deviceSiteSchema = yup.object({ site: line('The site').max(60).nullable().defined() }).noUnknown();
