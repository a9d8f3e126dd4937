import { useQuery } from "@tanstack/react-query";
import { NavLink, useParams } from "react-router";
import { api, data, words } from "../api/client";
import { Glossed } from "../kit/Glossed";
import { terms as common } from "../terms/common";
import { Phrase } from "../terms/phrase";
import { terms } from "../terms/rulebook";
import "./rulebook.module.css";

/** One page a rule: what it checks, why, by which formula and source, which schools there are, what fixes it. */
export default function RuleBook() {
  const { code } = useParams();
  const rules = useQuery({
    queryKey: ["rules"],
    queryFn: () => data(api.GET("/api/v1/rules")),
    staleTime: 1e9,
  });
  if (!rules.data) return <p className="loading">{rules.error ? words(rules.error) : common.opening}</p>;
  const page =
    rules.data.find((rule) => rule.code === code?.toUpperCase()) ?? (code ? undefined : rules.data[0]);
  const steps = [...new Set(rules.data.map((rule) => rule.step))];
  return (
    <main className="rule-book" data-given>
      <nav aria-label={common.ruleBook}>
        <h1>{common.ruleBook}</h1>
        {steps.map((step) => (
          <div key={step}>
            <h2>{step}</h2>
            {rules.data
              .filter((rule) => rule.step === step)
              .map((rule) => (
                <NavLink key={rule.code} to={`/rules/${rule.code}`} className={rule === page ? "active" : ""}>
                  <span className="code">{rule.code}</span> {rule.title}
                </NavLink>
              ))}
          </div>
        ))}
      </nav>
      {page ? (
        <article>
          <p className="code">
            {page.code} · {page.step}
          </p>
          <h2>{page.title}</h2>
          <dl>
            <dt>{terms.checks}</dt>
            <dd>
              <Glossed>{page.checks}</Glossed>
            </dd>
            <dt>{common.why}</dt>
            <dd>
              <Glossed>{page.why}</Glossed>
            </dd>
            <dt>{terms.formula}</dt>
            <dd className="formula">{page.formula}</dd>
            <dt>{terms.source}</dt>
            <dd>{page.source}</dd>
            <dt>{terms.fix}</dt>
            <dd>{page.fix}</dd>
            {page.limits.length > 0 && (
              <>
                <dt>{common.limits}</dt>
                {page.limits.map((limit) => (
                  <dd key={limit.words}>
                    {limit.words} <span className="quiet">({limit.source})</span>
                  </dd>
                ))}
              </>
            )}
            {page.schools.length > 0 && (
              <>
                <dt>{terms.schools}</dt>
                <dd>
                  {page.schools.map((school, index) => (
                    <p key={school.key}>
                      <strong>{school.title}</strong>
                      {index === 0 && <span className="quiet"> {terms.default}</span>}: {school.says}
                    </p>
                  ))}
                </dd>
              </>
            )}
          </dl>
        </article>
      ) : (
        <article>
          <h2>
            <Phrase of={terms.thereIsNoRuleCode} with={{ code }} />
          </h2>
        </article>
      )}
    </main>
  );
}
