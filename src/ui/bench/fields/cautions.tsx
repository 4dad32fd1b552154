/** What is to be said of a part of the look, each by itself. */
export const Cautions = ({ said }: { said: string[] }) =>
  said.map((caution) => (
    <p key={caution} className="border-l-2 border-warning pl-2 text-warning">
      {caution}
    </p>
  ));
