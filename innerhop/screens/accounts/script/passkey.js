// A passkey as the second step: the browser makes one, or signs with one, and what it says is sent
// with the form that asked for it.
// https://www.w3.org/TR/webauthn-3/#sctn-parseCreationOptionsFromJSON

const TROUBLES = {
  InvalidStateError: "This device has a passkey for your account already.",
  SecurityError: "Passkeys belong to a name, and this address is a number or not safe.",
};
const NONE = "This browser knows no passkeys. A newer one does.";
const NOTHING = "Nothing came of it. Try again, or take another way.";

export function passkey() {
  return {
    trouble: "",

    async use() {
      this.trouble = "";
      const { creation_options: making, request_options: using } = JSON.parse(
        document.getElementById("passkey-asked").textContent,
      );
      try {
        const found = making
          ? await navigator.credentials.create({
              publicKey: PublicKeyCredential.parseCreationOptionsFromJSON(making.publicKey),
            })
          : await navigator.credentials.get({
              publicKey: PublicKeyCredential.parseRequestOptionsFromJSON(using.publicKey),
            });
        this.$root.elements.credential.value = JSON.stringify(found.toJSON());
        this.$root.submit();
      } catch (problem) {
        const isNone = problem instanceof ReferenceError || problem instanceof TypeError;
        this.trouble = isNone ? NONE : (TROUBLES[problem.name] ?? NOTHING);
      }
    },
  };
}
