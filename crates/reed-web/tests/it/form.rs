//! A form of a page as a browser would send it.

use crate::client::Client;

/// Names and values, in the order of the page.
#[derive(Clone)]
pub(crate) struct Form(Vec<(String, String)>);

fn attribute<'a>(tag: &'a str, name: &str) -> Option<&'a str> {
    tag.split_once(&format!(" {name}=\""))?.1.split('"').next()
}

fn plain(text: &str) -> String {
    text.replace("&#34;", "\"")
        .replace("&#60;", "<")
        .replace("&#62;", ">")
        .replace("&#39;", "'")
        .replace("&#38;", "&")
}

impl Form {
    /// The drawing of a new tank, with everything as in a set-up.
    pub(crate) async fn from_start(client: &Client, id: &str) -> Self {
        Self::of(
            &client
                .post(
                    &format!("/tanks/new/{id}"),
                    "name=New&animals=set-up&do=draw",
                )
                .await
                .text,
        )
    }

    /// Every field of the tank's form on this page.
    pub(crate) fn of(page: &str) -> Self {
        let form = page
            .split_once("id=\"tank-form\"")
            .expect("a form")
            .1
            .split("</form>")
            .next()
            .expect("it ends");
        let mut pairs = Vec::new();
        let mut select = None;
        for tag in form.split('<').skip(1) {
            let tag = tag.split_once('>').map_or(tag, |(tag, _)| tag);
            let name = attribute(tag, "name").map(plain);
            if let (true, Some(name)) = (tag.starts_with("input"), &name) {
                if !tag.contains("type=\"checkbox\"") || tag.contains(" checked") {
                    pairs.push((
                        name.clone(),
                        plain(attribute(tag, "value").unwrap_or_default()),
                    ));
                }
            } else if tag.starts_with("select") {
                select = name;
            } else if let (true, Some(name)) = (
                tag.starts_with("option") && tag.contains(" selected"),
                &select,
            ) {
                pairs.push((
                    name.clone(),
                    plain(attribute(tag, "value").unwrap_or_default()),
                ));
            }
        }
        Self(pairs)
    }

    /// Types into a field, or presses a button.
    pub(crate) fn set(&mut self, name: &str, value: &str) -> &mut Self {
        self.0.retain(|(known, _)| known != name);
        self.0.push((name.to_owned(), value.to_owned()));
        self
    }

    /// What a field holds.
    pub(crate) fn get(&self, name: &str) -> &str {
        self.0
            .iter()
            .find(|(known, _)| known == name)
            .map_or("", |(_, value)| value)
    }

    /// Every field with what it holds, without the pressed button.
    pub(crate) fn fields(&self) -> impl Iterator<Item = (&str, &str)> {
        self.0
            .iter()
            .filter(|(name, _)| name != "do")
            .map(|(name, value)| (name.as_str(), value.as_str()))
    }

    /// As a browser sends it.
    pub(crate) fn sent(&self) -> String {
        let mut sent = url::form_urlencoded::Serializer::new(String::new());
        self.0
            .iter()
            .fold(&mut sent, |sent, (name, value)| {
                sent.append_pair(name, value)
            })
            .finish()
    }
}
